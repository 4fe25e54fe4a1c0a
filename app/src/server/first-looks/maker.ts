import { setPriority } from 'node:os'
import { database } from '../database'
import { withoutLook } from '../looks'
import type { Report } from './in-quiet'
import { makeFirstLook } from './make'

/** A process of its own, which looksInQuiet starts: makes the first look of one project whenever it is told to, but for those that it is told have none. */

// whatever else is to be done goes first
setPriority(19)

const tell = (report: Report) => process.send?.(report)

process.on('message', async (without: readonly string[]) => {
  try {
    const em = (await database()).em.fork()
    const [next, after] = await withoutLook(em, without, 2)
    if (!next) return tell({ made: false, more: false })
    tell({ begun: next })
    const made = await makeFirstLook(em, next).catch(() => false)
    tell({ made, more: after !== undefined })
  } catch {
    // the library may be away: it is tried again when something has changed
    tell({ made: false, more: false })
  }
})
process.on('disconnect', () => process.exit())
