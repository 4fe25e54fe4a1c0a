import { Migration } from '@mikro-orm/migrations'

/** Recordings of simulations, under keys that say what they are made of: the workers' own bytes, see core/src/format/bake.ts. */
export class Bakes extends Migration {
  override up(): void {
    this.addSql(`create table bake (
      key text primary key check (length(key) between 1 and 120),
      bytes bytea not null,
      used_at timestamptz not null
    )`)
    this.addSql('create index bake_used on bake (used_at)')
  }

  override down(): void {
    this.addSql('drop table bake')
  }
}
