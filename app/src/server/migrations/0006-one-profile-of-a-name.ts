import { Migration } from '@mikro-orm/migrations'

/** One profile of a name: the newest of those there are; the database sees to it from now on. */
export class OneProfileOfAName extends Migration {
  override up(): void {
    this.addSql(
      `delete from profile where id in (
         select id from (select id, row_number() over (partition by name order by created_at desc, id) as place from profile) as ranked where place > 1
       )`,
    )
    this.addSql('create unique index profile_name on profile (name)')
  }

  override down(): void {
    this.addSql('drop index profile_name')
  }
}
