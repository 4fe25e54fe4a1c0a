import { Migration } from '@mikro-orm/migrations'

/** Which recordings a project uses, so that they travel in its file. A recording may be gone before, or belong to several. */
export class BakesOfProjects extends Migration {
  override up(): void {
    this.addSql(`create table project_bake (
      project_id uuid not null references project (id) on delete cascade,
      key text not null check (length(key) between 1 and 120),
      used_at timestamptz not null,
      primary key (project_id, key)
    )`)
  }

  override down(): void {
    this.addSql('drop table project_bake')
  }
}
