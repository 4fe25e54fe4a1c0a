import { Migration } from '@mikro-orm/migrations'

/** Masks kept in the cabinet, for every project: one of a name. */
export class Masks extends Migration {
  override up(): void {
    this.addSql(`create table mask (
      id uuid primary key,
      name text not null unique check (length(name) between 1 and 60),
      mask jsonb not null,
      created_at timestamptz not null
    )`)
  }

  override down(): void {
    this.addSql('drop table mask')
  }
}
