import { Migration } from '@mikro-orm/migrations'

/** What pieces last looked like, for browsers that have not seen them yet: the page's own bytes, see state/look.ts. */
export class Looks extends Migration {
  override up(): void {
    this.addSql(`create table look (
      project_id uuid not null references project (id) on delete cascade,
      piece text not null check (length(piece) between 1 and 80),
      bytes bytea not null,
      updated_at timestamptz not null,
      primary key (project_id, piece)
    )`)
  }

  override down(): void {
    this.addSql('drop table look')
  }
}
