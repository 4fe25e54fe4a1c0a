import { describe, expect, it } from 'vitest'
import { breather } from '../src/cache/breathing'
import { hashBits } from '../src/cache/hash'
import { shareOut } from '../src/parallel/share-out'
import { roundedBox } from '../src/solid/revolve'
import { type Remeshed, remeshBody, type SideValues } from '../src/steps/shared/even-triangles'
import { nodeThreads } from './threads'

const values: SideValues = { edge: 1.5, fit: 'one', least: 0.4, within: 0.02, creases: 25 }
const bodies = [8, 9, 10, 11, 12, 13].map((size) => ({ solid: roundedBox(size, size, size, 2, 4, 2 ** -14), values }))
const bits = (results: readonly Remeshed[]) => results.map((one) => one.ok && hashBits(one.solid.positions) + hashBits(one.solid.indices))

describe('threads of the command line', () => {
  it('do a part of what is shared out, to the very same, and are kept for what comes next', async () => {
    const threads = nodeThreads(undefined, 1)
    const options = { breathe: breather(undefined), takes: () => 2000 }
    const alone = await shareOut(remeshBody, bodies, options)
    expect(alone.every(({ ok }) => ok)).toBe(true)
    let there = 0
    const counted = {
      count: threads.count,
      get ready() {
        return threads.ready
      },
      lend: ((work, signal) =>
        threads.lend(
          (thread) =>
            work({
              run: async (...asked) => {
                const result = await thread.run(...asked)
                there++
                return result
              },
            }),
          signal,
        )) as typeof threads.lend,
    }
    expect(threads.ready).toBe(false)
    // here nothing is done until the other has done something: it takes a while to start
    const patient = async () => {
      for (let waited = 0; there === 0 && waited < 3000; waited++) await new Promise((resolve) => setTimeout(resolve, 10))
    }
    const shared = await shareOut(remeshBody, bodies, { ...options, breathe: patient, threads: counted })
    expect(bits(shared)).toEqual(bits(alone))
    expect(there).toBeGreaterThan(0)
    expect(threads.ready).toBe(true)
  })

  it('tell what a task throws, and go on', async () => {
    const threads = nodeThreads(undefined, 1)
    await threads.lend(async (thread) => {
      await expect(thread.run('no such task', 1)).rejects.toThrow('no task')
      const result = (await thread.run(remeshBody.name, bodies[0])) as Remeshed
      expect(result.ok).toBe(true)
    }, new AbortController().signal)
  })

  it('are ended with what they do when it is stopped', async () => {
    const threads = nodeThreads(undefined, 1)
    const stop = new AbortController()
    const running = threads.lend(async (thread) => {
      await thread.run(remeshBody.name, bodies[0])
      setTimeout(() => stop.abort(new Error('enough')), 20)
      await thread.run(remeshBody.name, { solid: roundedBox(60, 60, 60, 5, 8, 2 ** -14), values: { ...values, edge: 0.2 } })
    }, stop.signal)
    const from = performance.now()
    await expect(running).rejects.toThrow('enough')
    expect(performance.now() - from).toBeLessThan(20_000)
    expect(threads.ready).toBe(false)
  })
})
