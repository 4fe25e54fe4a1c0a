import { setPriority } from 'node:os'
import { database } from '../database'
import { withoutLook } from '../looks'
import type { Report } from './in-quiet'
import { makeFirstLook } from './make'

/** A process of its own, which looksInQuiet starts: makes the first look of one project whenever it is told to, but of those that it is told it has been through. */

// whatever else is to be done goes first
setPriority(19)

const tell = (report: Report) => process.send?.(report)

process.on('message', async (through: readonly string[]) => {
  try {
    const em = (await database()).em.fork()
    const [next, after] = await withoutLook(em, through, 2)
    if (next) {
      tell({ begun: next })
      await makeFirstLook(em, next).catch(() => false)
    }
    tell({ more: after !== undefined })
  } catch {
    // the library may be away: it is tried again when something has changed
    tell({ more: false })
  }
})
process.on('disconnect', () => process.exit())
