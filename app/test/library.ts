import { MikroORM } from '@mikro-orm/postgresql'
import { afterAll, beforeAll } from 'vitest'
import { database, databaseOptions } from '@/server/database'

/** A test file's own connection to the library, brought up to date; it and the application's are closed when the file's tests are done. */
export function openLibrary(): { readonly orm: MikroORM } {
  let orm: MikroORM
  beforeAll(async () => {
    orm = await MikroORM.init(databaseOptions(process.env.KELVAR_DATABASE_URL ?? ''))
    await orm.getMigrator().up()
  })
  afterAll(async () => {
    await orm.close(true)
    await (await database()).close(true)
  })
  return {
    get orm() {
      return orm
    },
  }
}
