import { cache } from 'react'
import { database } from '@/server/database'
import { uuid } from '@/server/http'
import { hasLook } from '@/server/looks'
import { findProject, hasPicture } from '@/server/projects'

/** A project for a page, once for a request whoever asks; undefined when there is none. */
export const openProject = cache(async (asked: string) => {
  const { success, data: id } = uuid.safeParse(asked)
  if (!success) return undefined
  try {
    const orm = await database()
    const row = await findProject(orm.em.fork(), id)
    if (!row) return undefined
    const [first] = row.document.pieces ?? []
    const looked = first && (await hasLook(orm.em.fork(), id, first.id)) ? first.id : undefined
    return { row, pictured: await hasPicture(orm.em.fork(), id), looked }
  } catch (error) {
    console.error(error)
    return 'unreachable' as const
  }
})
