import { shareOut, type Task } from '../../parallel/share-out'
import type { StepContext } from '../step'

/** One thing that a task makes: what is the same has the same key. */
export interface ToMake<Data> {
  readonly key: string
  readonly data: Data
  /** about how long it takes, ms */
  readonly takes: number
}

/**
 * Has a task done for each of a list, in other threads as well where there are any. What is the same is made once, and kept in the memo under its key as long as
 * that has room. Progress goes to `until`. Rejects with the abort reason, or what the task throws.
 */
export async function eachMade<Data, Result>(
  task: Task<Data, Result>,
  list: readonly ToMake<Data>[],
  context: Pick<StepContext, 'memo' | 'threads' | 'signal' | 'breathe' | 'progress'>,
  until = 1,
): Promise<Result[]> {
  const made = new Map<string, Result>()
  const lacking = new Map<string, ToMake<Data>>()
  for (const one of list) {
    const known = context.memo.peek<Result>(one.key)
    if (known) made.set(one.key, known)
    else lacking.set(one.key, one)
  }
  const asked = [...lacking.values()]
  const all = asked.reduce((sum, { takes }) => sum + takes, 0)
  let did = 0
  await shareOut<Data, Result>(
    task,
    asked.map(({ data }) => data),
    {
      threads: context.threads,
      breathe: () => context.breathe(),
      signal: context.signal,
      takes: (_, i) => asked[i].takes,
      done: (result, i) => {
        const { key, takes } = asked[i]
        made.set(key, result)
        context.memo.put(key, result)
        did += takes
        context.progress((until * did) / all)
      },
    },
  )
  return list.map(({ key }) => made.get(key) as Result)
}
