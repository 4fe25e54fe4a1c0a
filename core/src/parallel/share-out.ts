/**
 * One kind of work that another thread can do as well: the same data give the same result wherever it is done. Both must be such that they can be sent to
 * one (structured clone). A task may throw; then it is done again by whoever asked, where the error is at home.
 */
export interface Task<Data, Result> {
  /** its name in the list of tasks, steps/tasks.ts */
  readonly name: string
  readonly run: (data: Data, breathe: () => Promise<void>) => Promise<Result>
}

/** Another thread, as long as it is lent. */
export interface Thread {
  run(task: string, data: unknown): Promise<unknown>
}

/** Threads beside the one that asks. */
export interface Threads {
  /** how many there are at most */
  readonly count: number
  /** whether one is there already that has nothing to do: others must be started first, which takes a second of work on a slow machine */
  readonly ready: boolean
  /**
   * Lends a thread until `work` is done; does nothing where none is free. Rejects when the thread is lost or `work` fails, and when the signal is given: then the
   * thread is ended, whatever it is doing.
   */
  lend(work: (thread: Thread) => Promise<void>, signal: AbortSignal): Promise<void>
}

interface SharedOut<Data, Result> {
  /** none when left out: then everything is done here */
  readonly threads?: Threads
  readonly breathe: () => Promise<void>
  /** given when the results are not wanted any more */
  readonly signal?: AbortSignal
  /** about how long something takes, ms */
  readonly takes: (data: Data, i: number) => number
  /** called with each result as it comes, and which it is */
  readonly done?: (result: Result, i: number) => void
}

/** Threads are asked where that saves more than this, ms; and those that must be started first where it saves more than that. */
const WORTH = 300
const WORTH_STARTING = 1500

/** Whether it is worth sharing out what takes so long, each, ms. */
export function isWorthSharing(takes: readonly number[], { ready, count }: Pick<Threads, 'ready' | 'count'>): boolean {
  if (count < 1) return false
  const [all, longest] = [takes.reduce((sum, ms) => sum + ms, 0), takes.reduce((most, ms) => Math.max(most, ms), 0)]
  return Math.min(all - longest, all - all / (count + 1)) > (ready ? WORTH : WORTH_STARTING)
}

/**
 * Does a task on all of a list, here and in other threads at the same time, and gives the results in the list's order: the very same with and without
 * threads. The longest come first, so that all end together. Rejects with what a task throws, or the signal's reason.
 */
export async function shareOut<Data, Result>(
  task: Task<Data, Result>,
  list: readonly Data[],
  { threads, breathe, signal, takes, done }: SharedOut<Data, Result>,
): Promise<Result[]> {
  const long = list.map(takes)
  const order = list.map((_, i) => i).sort((a, b) => long[b] - long[a] || a - b)
  const results = new Array<Result>(list.length)
  const left = [...order]
  const put = (i: number, result: Result) => {
    results[i] = result
    done?.(result, i)
  }
  const here = async () => {
    for (let i = left.shift(); i !== undefined; i = left.shift()) {
      await breathe()
      put(i, await task.run(list[i], breathe))
    }
  }
  const there = async (thread: Thread, held: Set<number>, over: () => boolean) => {
    while (!over()) {
      const i = left.shift()
      if (i === undefined) return
      held.add(i)
      const result = (await thread.run(task.name, list[i])) as Result
      if (over()) return
      held.delete(i)
      put(i, result)
    }
  }
  const lend = async (from: Threads, signalled: AbortSignal) => {
    const held = new Set<number>()
    let over = false
    const isOver = () => over
    try {
      // it has the next one at hand before it has told of the last: this thread may be busy and not hear it
      await from.lend(async (thread) => void (await Promise.all([there(thread, held, isOver), there(thread, held, isOver)])), signalled)
    } catch {
      // lost, or what it did has thrown: that is done again here, where an error of the task is met
      over = true
      left.push(...held)
    }
  }
  const enough = threads && isWorthSharing(long, threads) ? Math.min(threads.count, list.length - 1) : 0
  const ended = new AbortController()
  const stop = () => ended.abort(signal?.reason)
  signal?.addEventListener('abort', stop, { once: true })
  try {
    const own = here()
    own.catch(() => {})
    const others = Array.from({ length: enough }, () => lend(threads as Threads, ended.signal))
    await own
    await Promise.all(others)
    signal?.throwIfAborted()
    // what came back
    await here()
    return results
  } finally {
    signal?.removeEventListener('abort', stop)
    ended.abort()
  }
}
