import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { run, runWith, step, words } from '../../test/simulating'
import type { BakeStore } from '../cache/bakes'
import { Memo } from '../cache/memo'
import { packBake, unpackBake } from './bake'

const bakeOf = (frames: number, stride: number, period: number, value: (frame: number, i: number) => number) => ({
  about: { what: 'a test' },
  frames,
  stride,
  period,
  values: Float32Array.from({ length: frames * stride }, (_, n) => value(Math.floor(n / stride), n % stride)),
})

describe('A bake', () => {
  it('brings every number back within half a step of its component’s range', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 130 }),
        fc.integer({ min: 1, max: 6 }),
        fc.integer({ min: 1, max: 4 }),
        fc.array(fc.float({ min: -1e4, max: 1e4, noNaN: true }), { minLength: 8, maxLength: 64 }),
        (frames, times, period, list) => {
          const bake = bakeOf(frames, times * period, period, (f, i) => list[(7 * f + 3 * i) % list.length])
          const back = unpackBake(packBake(bake))
          if (!back) throw new Error('none')
          expect([back.frames, back.stride, back.period, back.about]).toEqual([frames, times * period, period, bake.about])
          for (let k = 0; k < period; k++) {
            const own = bake.values.filter((_, n) => (n % bake.stride) % period === k)
            const range = own.reduce((a, b) => Math.max(a, b)) - own.reduce((a, b) => Math.min(a, b))
            back.values.forEach((v, n) => {
              if ((n % bake.stride) % period === k) expect(Math.abs(v - bake.values[n])).toBeLessThanOrEqual(range / 131_000 + 1e-3)
            })
          }
        },
      ),
      { numRuns: 40 },
    )
  })

  it('is the same once it has been a bake', () => {
    const once = unpackBake(packBake(bakeOf(90, 30, 3, (f, i) => Math.sin(f / 9 + i))))
    if (!once) throw new Error('none')
    expect(unpackBake(packBake(once))?.values).toEqual(once.values)
  })

  it('of 300 frames of 2,000 points that sway stays under 2 MB', () => {
    const bytes = packBake(bakeOf(300, 6000, 3, (f, i) => (i % 3) * 20 + 0.05 * i + 4 * Math.sin(f / 7 + i / 900)))
    expect(bytes.length).toBeLessThan(2e6)
  })

  it('that is damaged, cut short or something else is none', () => {
    const bytes = packBake(bakeOf(70, 9, 3, (f, i) => f * i))
    expect(unpackBake(new Uint8Array(0))).toBeUndefined()
    expect(unpackBake(bytes.subarray(0, bytes.length - 3))).toBeUndefined()
    expect(unpackBake(Uint8Array.from(bytes, (b, i) => (i === 0 ? 0 : b)))).toBeUndefined()
    expect(unpackBake(Uint8Array.from(bytes, (b, i) => (i === 20 ? 255 - b : b)))).toBeUndefined()
  })
})

describe('Recordings', () => {
  const store = () => {
    const kept = new Map<string, Uint8Array>()
    const bakes: BakeStore = { read: async (key) => kept.get(key), write: async (key, bytes) => void kept.set(key, bytes) }
    return { kept, bakes }
  }

  it('are kept under what they are made of, shown alike from the bake, and made anew when that has changed', async () => {
    const { kept, bakes } = store()
    const fall = (params: Record<string, unknown>) => runWith({ bakes, memo: new Memo() }, ...words('Ft'), step('drop', { at: 0.8, length: 1, ...params }))
    const first = await fall({})
    expect(kept.size).toBe(1)
    // other moments and the same things are the same recording
    await fall({ at: 0.2 })
    expect(kept.size).toBe(1)
    await fall({ spin: 61 })
    expect(kept.size).toBe(2)
    // nobody remembers, but the bakes do
    const [key, bytes] = [...kept][0]
    const another = store()
    another.kept.set(key, bytes)
    for (let i = 0; i < 8; i++) await fall({ spin: 100 + i })
    const again = await runWith({ bakes: another.bakes, memo: new Memo() }, ...words('Ft'), step('drop', { at: 0.8, length: 1 }))
    expect(another.kept.size).toBe(1)
    expect(again.value).toEqual(first.value)
  })

  it('do without a bake that is damaged', async () => {
    const bakes: BakeStore = { read: async () => new Uint8Array([1, 2, 3]), write: async () => {} }
    const { value } = await runWith({ bakes, memo: new Memo() }, ...words('Fu'), step('drop', { at: 0.5, length: 0.6, seed: 77 }))
    expect(value).toEqual((await run(...words('Fu'), step('drop', { at: 0.5, length: 0.6, seed: 77 }))).value)
  })

  it('that are stopped go on where they were, and end as if they had not been', async () => {
    const route = [...words('Stop'), step('jelly', { at: 1.5, length: 2, seed: 5, fall: 10 })]
    const stopping = new AbortController()
    const done: number[] = []
    await expect(
      runWith(
        {
          memo: new Memo(),
          signal: stopping.signal,
          onProgress: (id, share) => {
            if (id !== 'jelly-1') return
            done.push(share)
            if (share > 0.4) stopping.abort(new Error('stopped'))
          },
        },
        ...route,
      ),
    ).rejects.toThrow('stopped')
    expect(Math.max(...done)).toBeLessThan(0.9)
    const after: number[] = []
    const went = await runWith({ memo: new Memo(), onProgress: (id, share) => id === 'jelly-1' && share > 0 && after.push(share) }, ...route)
    // not from the beginning
    expect(Math.min(...after)).toBeGreaterThan(0.35)
    const { value } = await runWith({ memo: new Memo() }, ...words('Stop'), step('jelly', { at: 1.5, length: 2, seed: 5, fall: 10 }))
    expect(value).toEqual(went.value)
  })
})
