import { Migration } from '@mikro-orm/migrations'

/** What every accepted save held, versions that were set aside in a conflict, and projects that can be put back after removal. */
export class Revisions extends Migration {
  override up(): void {
    this.addSql(`create table revision (
      id uuid primary key,
      project_id uuid not null references project (id) on delete cascade,
      number integer not null check (number >= 1),
      aside boolean not null default false,
      document jsonb not null,
      changes jsonb not null default '[]',
      name text check (length(name) between 1 and 80),
      picture bytea,
      created_at timestamptz not null
    )`)
    this.addSql('create unique index revision_number on revision (project_id, number) where not aside')
    this.addSql('create index revision_newest on revision (project_id, created_at desc)')
    this.addSql(`insert into revision (id, project_id, number, document, picture, created_at)
      select gen_random_uuid(), id, revision, document, picture, updated_at from project`)
    this.addSql('alter table project add column removed_at timestamptz')
  }

  override down(): void {
    this.addSql('drop table revision')
    this.addSql('alter table project drop column removed_at')
  }
}
