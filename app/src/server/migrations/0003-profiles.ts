import { Migration } from '@mikro-orm/migrations'

/** Edge profiles kept in the cabinet, for every project. */
export class Profiles extends Migration {
  override up(): void {
    this.addSql(`create table profile (
      id uuid primary key,
      name text not null check (length(name) between 1 and 60),
      drawn jsonb not null,
      created_at timestamptz not null
    )`)
  }

  override down(): void {
    this.addSql('drop table profile')
  }
}
