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
