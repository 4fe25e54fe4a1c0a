/** Brings the database up to date: migrations, shipped faces, and, with --demo, the projects of the Lantern Fair. */
import { fileURLToPath } from 'node:url'
import { MikroORM } from '@mikro-orm/postgresql'
import { seedShippedFaces } from '../src/server/assets'
import { databaseOptions } from '../src/server/database'
import { seedDemo } from '../src/server/demo'
import { makeFirstLook } from '../src/server/first-looks/make'

const url = process.env.KELVAR_DATABASE_URL
if (!url) throw new Error('KELVAR_DATABASE_URL is not set; use ./start or ./test')
const orm = await MikroORM.init(databaseOptions(url))
try {
  await orm.getMigrator().up()
  const em = orm.em.fork()
  const faces = await seedShippedFaces(em, fileURLToPath(new URL('../../core/fonts', import.meta.url)))
  const projects = process.argv.includes('--demo') ? await seedDemo(em) : []
  // they stand at once the first time that anybody opens them
  for (const id of projects) await makeFirstLook(em, id)
  console.log(`database ready: ${faces} faces and ${projects.length} projects added`)
} finally {
  await orm.close(true)
}
