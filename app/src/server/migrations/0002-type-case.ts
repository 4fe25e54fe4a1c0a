import { Migration } from '@mikro-orm/migrations'

/** Fonts carry what the type case shows of them; one taken out of the case stays for the projects that use it. */
export class TypeCase extends Migration {
  override up(): void {
    this.addSql('alter table asset add column facts jsonb')
    this.addSql('alter table asset add column listed boolean not null default true')
  }

  override down(): void {
    this.addSql('alter table asset drop column facts')
    this.addSql('alter table asset drop column listed')
  }
}
