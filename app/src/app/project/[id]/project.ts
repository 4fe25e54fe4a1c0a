import { cache } from 'react'
import { database } from '@/server/database'
import { uuid } from '@/server/http'
import { findProject, hasPicture } from '@/server/projects'

/** A project for a page, once for a request whoever asks; undefined when there is none. */
export const openProject = cache(async (asked: string) => {
  const { success, data: id } = uuid.safeParse(asked)
  if (!success) return undefined
  try {
    const orm = await database()
    const row = await findProject(orm.em.fork(), id)
    return row ? { row, pictured: await hasPicture(orm.em.fork(), id) } : undefined
  } catch (error) {
    console.error(error)
    return 'unreachable' as const
  }
})
