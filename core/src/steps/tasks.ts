import { measure } from '../cache/measure'
import type { Task } from '../parallel/share-out'

/** What can be done in other threads, each loaded when it is first asked for. */
const TASKS: Readonly<Record<string, () => Promise<Task<never, unknown>>>> = {
  brush: async () => (await import('./form/brush/region')).paintRegion,
  'chisel-front': async () => (await import('./volume/chisel/front')).chiselBody,
  'even-remesh': async () => (await import('./shared/even-triangles')).remeshBody,
  splat: async () => (await import('../volume/splat')).splatSlab,
  'through-volume': async () => (await import('./shared/body-through-volume')).bodyThroughVolume,
}

/** Does a task by its name, in one go. Throws where there is none of that name, and what the task throws. */
export async function runTask(name: string, data: unknown): Promise<unknown> {
  const load = Object.hasOwn(TASKS, name) ? TASKS[name] : undefined
  if (!load) throw new RangeError(`there is no task “${name}”`)
  return (await load()).run(data as never, async () => {})
}

/**
 * Does tasks for another thread, one after another: gives what came of one, and the memory that is new in it and need not be copied on its way (what came in may be
 * shared). Rejects where there is none of that name, and with what the task throws.
 */
export function tasksInTurn(): (name: string, data: unknown) => Promise<{ readonly value: unknown; readonly made: ArrayBuffer[] }> {
  let last: Promise<unknown> = Promise.resolve()
  return async (name, data) => {
    const result = last.catch(() => {}).then(() => runTask(name, data))
    last = result
    const value = await result
    const given = new Set(measure(data).buffers)
    const isNew = (buffer: ArrayBufferLike): buffer is ArrayBuffer => buffer instanceof ArrayBuffer && buffer.byteLength > 0 && !given.has(buffer)
    return { value, made: measure(value).buffers.filter(isNew) }
  }
}
