import { Migration } from '@mikro-orm/migrations'

/** Files are kept in parts, so that none is ever whole in the server's memory. A part is a megabyte, see server/assets.ts. */
export class AssetParts extends Migration {
  override up(): void {
    this.addSql('alter table asset add column size bigint')
    this.addSql('update asset set size = octet_length(bytes)')
    this.addSql('alter table asset alter column size set not null')
    this.addSql(`create table asset_part (
      sha256 text not null references asset (sha256) on delete cascade,
      number integer not null check (number >= 0),
      bytes bytea not null,
      primary key (sha256, number)
    )`)
    // what is kept is packed already, or fonts and models that are sent as they are
    this.addSql('alter table asset_part alter column bytes set storage external')
    this.addSql(`insert into asset_part (sha256, number, bytes)
      select sha256, part, substring(bytes from part * 1048576 + 1 for 1048576)
        from asset, generate_series(0, greatest(0, (octet_length(bytes) - 1) / 1048576)) as part`)
    this.addSql('alter table asset drop column bytes')
    this.addSql('create index asset_unlisted on asset (created_at) where not listed')
  }

  override down(): void {
    this.addSql('alter table asset add column bytes bytea')
    this.addSql(
      `update asset set bytes = (select string_agg(asset_part.bytes, ''::bytea order by number) from asset_part where asset_part.sha256 = asset.sha256)`,
    )
    this.addSql('drop table asset_part')
    this.addSql('drop index asset_unlisted')
    this.addSql('alter table asset drop column size')
  }
}
