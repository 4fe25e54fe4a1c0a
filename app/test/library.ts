import { MikroORM } from '@mikro-orm/postgresql'
import { afterAll, beforeAll } from 'vitest'
import { databaseOptions } from '@/server/database'

/** A test file's own connection to the library, brought up to date; closed when the file's tests are done. The application's own is that of the process. */
export function openLibrary(): { readonly orm: MikroORM } {
  let orm: MikroORM
  beforeAll(async () => {
    orm = await MikroORM.init(databaseOptions(process.env.KELVAR_DATABASE_URL ?? ''))
    await orm.getMigrator().up()
  })
  afterAll(() => orm.close(true))
  return {
    get orm() {
      return orm
    },
  }
}
