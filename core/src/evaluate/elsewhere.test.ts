import { describe, expect, it } from 'vitest'
import { assets, wordRoute } from '../../test/helpers'
import { Memo } from '../cache/memo'
import { type Elsewhere, evaluateRoute, resultKey } from './route'

/** Two that make results, told at once of what the other does. */
class Pair {
  readonly memos = [new Memo(), new Memo()] as const
  readonly began: [string[], string[]] = [[], []]
  private readonly making: [Map<string, { done: Promise<void>; over: () => void }>, Map<string, { done: Promise<void>; over: () => void }>] = [
    new Map(),
    new Map(),
  ]

  elsewhere(who: 0 | 1): Elsewhere {
    const [own, other] = [this.making[who], this.making[1 - who]]
    return {
      awaited: (key) => other.get(key)?.done,
      begin: (key) => {
        this.began[who].push(key)
        let over = () => {}
        const done = new Promise<void>((resolve) => (over = resolve))
        own.set(key, { done, over })
        return () => {
          own.delete(key)
          over()
        }
      },
    }
  }

  evaluate(who: 0 | 1, text: string, options: { signal?: AbortSignal; onProgress?: () => void } = {}) {
    const route = [...wordRoute(text, 'archivo-bold'), { id: 'even', kind: 'even-remesh', on: true, params: { edge: 2 } }]
    return evaluateRoute(route, {
      assets,
      memo: this.memos[who],
      elsewhere: this.elsewhere(who),
      share: (key, outcome) => {
        this.memos[1 - who].put(resultKey(key), outcome)
        return outcome
      },
      ...options,
    })
  }
}

describe('what others make at the same time', () => {
  it('is waited for and not made again', async () => {
    const pair = new Pair()
    const first = pair.evaluate(0, 'Tern')
    while (pair.began[0].length === 0) await new Promise((resolve) => setImmediate(resolve))
    const [one, other] = await Promise.all([first, pair.evaluate(1, 'Tern')])
    expect(one.complete && other.complete).toBe(true)
    expect(other.value).toBe(one.value)
    // Extrude and Even remesh; outlines are made by everyone
    expect(pair.began[0]).toHaveLength(2)
    expect(pair.began[1]).toHaveLength(0)
    expect(other.steps.map(({ reused }) => reused)).toEqual([true, true, true])
  })

  it('is made here where it comes to nothing there, and is not waited for by what is stopped', async () => {
    const pair = new Pair()
    const stop = new AbortController()
    let heard = () => {}
    const begun = new Promise<void>((resolve) => (heard = resolve))
    const given = pair.evaluate(0, 'Quay', { signal: stop.signal, onProgress: () => pair.began[0].length === 2 && heard() })
    given.catch(() => {})
    await begun
    const impatient = new AbortController()
    const stopped = pair.evaluate(1, 'Quay', { signal: impatient.signal })
    stopped.catch(() => {})
    const made = pair.evaluate(1, 'Quay')
    await new Promise((resolve) => setImmediate(resolve))
    impatient.abort(new Error('enough'))
    await expect(stopped).rejects.toThrow('enough')
    expect(pair.began[1]).toHaveLength(0)
    stop.abort(new Error('not wanted'))
    await expect(given).rejects.toThrow('not wanted')
    expect((await made).complete).toBe(true)
    expect(pair.began[1].length).toBeGreaterThan(0)
  })
})
