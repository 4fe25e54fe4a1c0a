import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { shareOut, type Task, type Thread, type Threads } from './share-out'

const square: Task<number, number> = {
  name: 'square',
  run: async (n) => {
    await tick()
    if (n < 0) throw new RangeError(`no root of ${n}`)
    return n * n
  },
}
const tick = () => new Promise<void>((resolve) => setImmediate(resolve))

/** Threads that do squares after so many turns, and are lost at their so manieth task. */
class Fakes implements Threads {
  readonly ready = true
  lent = 0
  did = 0
  ended = 0
  constructor(
    readonly count: number,
    private readonly turns: number,
    private readonly lostAt = Infinity,
  ) {}

  async lend(work: (thread: Thread) => Promise<void>, signal: AbortSignal): Promise<void> {
    this.lent++
    let tasks = 0
    const run = async (_: string, data: unknown) => {
      if (++tasks >= this.lostAt) throw new Error('lost')
      for (let n = 0; n < this.turns; n++) await tick()
      const result = await square.run(data as number, tick)
      this.did++
      return result
    }
    const stopped = new Promise<never>((_, reject) =>
      signal.addEventListener('abort', () => {
        reject(signal.reason as Error)
      }),
    )
    stopped.catch(() => {})
    try {
      await Promise.race([work({ run }), stopped])
    } catch (error) {
      this.ended++
      throw error
    }
  }
}

const options = { breathe: tick, takes: () => 1000 }

describe('work that is shared out', () => {
  it('comes to the same in the same order, whatever threads there are and whichever of them are lost', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.nat(1000), { maxLength: 20 }),
        fc.integer({ min: 0, max: 4 }),
        fc.integer({ min: 0, max: 5 }),
        fc.option(fc.integer({ min: 1, max: 4 }), { nil: Infinity }),
        async (list, count, turns, lostAt) => {
          const told: [number, number][] = []
          const results = await shareOut(square, list, { ...options, threads: new Fakes(count, turns, lostAt), done: (result, i) => told.push([i, result]) })
          expect(results).toEqual(list.map((n) => n * n))
          // each is told once
          expect(told.sort(([a], [b]) => a - b)).toEqual(list.map((n, i) => [i, n * n]))
        },
      ),
    )
  })

  it('is done elsewhere as well, the longest first, and only where that is worth it', async () => {
    const threads = new Fakes(3, 1)
    await shareOut(square, [1, 2, 3, 4, 5, 6, 7, 8], { ...options, threads })
    expect(threads.did).toBeGreaterThan(2)
    expect(threads.did).toBeLessThan(8)
    const idle = new Fakes(3, 1)
    await shareOut(square, [1, 2, 3, 4], { ...options, takes: () => 60, threads: idle })
    await shareOut(square, [1], { ...options, takes: () => 10_000, threads: idle })
    // what is there is asked for less than what must be started
    await shareOut(square, [1, 2, 3, 4], { ...options, takes: () => 400, threads: Object.assign(idle, { ready: false }) })
    expect(idle.lent).toBe(0)
    await shareOut(square, [1, 2, 3, 4], { ...options, takes: () => 400, threads: Object.assign(idle, { ready: true }) })
    expect(idle.lent).toBe(3)
    const order: number[] = []
    await shareOut(square, [1, 5, 3], { ...options, takes: (n) => n, done: (_, i) => order.push(i) })
    expect(order).toEqual([1, 2, 0])
  })

  it('fails with what the task throws, wherever that is met', async () => {
    await expect(shareOut(square, [1, 2, 3, -4, 5, 6], { ...options, threads: new Fakes(2, 0) })).rejects.toThrow(new RangeError('no root of -4'))
    await expect(shareOut(square, [1, -4], { ...options })).rejects.toThrow(RangeError)
  })

  it('ends the threads when it is stopped, and when it fails', async () => {
    const stop = new AbortController()
    const threads = new Fakes(2, 1000)
    const breathe = async () => {
      await tick()
      stop.signal.throwIfAborted()
    }
    const running = shareOut(square, [1, 2, 3, 4, 5, 6], { ...options, breathe, threads, signal: stop.signal, done: () => stop.abort(new Error('enough')) })
    await expect(running).rejects.toThrow('enough')
    await tick()
    expect(threads.ended).toBe(2)
    const failing = new Fakes(2, 1000)
    await expect(shareOut(square, [-1, 2, 3, 4], { ...options, threads: failing })).rejects.toThrow(RangeError)
    await tick()
    expect(failing.ended).toBe(2)
  })
})
