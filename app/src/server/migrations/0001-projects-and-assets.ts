import { Migration } from '@mikro-orm/migrations'

export class ProjectsAndAssets extends Migration {
  override up(): void {
    this.addSql(`create table project (
      id uuid primary key,
      name text not null check (length(name) between 1 and 120),
      document jsonb not null,
      revision integer not null check (revision >= 1),
      picture bytea,
      created_at timestamptz not null,
      updated_at timestamptz not null
    )`)
    this.addSql('create index project_updated_at on project (updated_at desc)')
    this.addSql(`create table asset (
      sha256 text primary key check (sha256 ~ '^[0-9a-f]{64}$'),
      name text not null,
      type text not null,
      bytes bytea not null,
      created_at timestamptz not null
    )`)
  }

  override down(): void {
    this.addSql('drop table project')
    this.addSql('drop table asset')
  }
}
