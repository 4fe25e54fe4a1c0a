import { Migration } from '@mikro-orm/migrations'

/** Finds projects with the very same pieces, whose look a new one begins with. */
export class PiecesOfProjects extends Migration {
  override up(): void {
    this.addSql(`create index project_pieces on project (md5(document->>'pieces'))`)
  }

  override down(): void {
    this.addSql('drop index project_pieces')
  }
}
