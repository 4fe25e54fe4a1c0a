import { sweepAssets } from './assets'
import { database } from './database'

const EVERY = 60 * 60 * 1000

/** Removes files that nothing names any more, a while after the start and then every hour. */
export function keepSweeping(): void {
  const sweep = async () => {
    try {
      const gone = await sweepAssets((await database()).em.fork())
      if (gone > 0) console.log(`${gone} files that no project names were removed`)
    } catch (error) {
      console.error(error)
    }
  }
  setTimeout(sweep, 60_000).unref()
  setInterval(sweep, EVERY).unref()
}
