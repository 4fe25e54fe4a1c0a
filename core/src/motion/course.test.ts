import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { courseOf, easeWith, handleOf, hasCourse, keysOf, roundedFor } from './course'
import { EASES } from './easing'
import { type Track, track, valueAt } from './track'

const aNumber = fc.integer({ min: -400, max: 400 })
const anEase = fc.oneof(
  fc.constantFrom(...(Object.keys(EASES) as (keyof typeof EASES)[]), 'hold' as const),
  fc
    .tuple(fc.integer({ min: 0, max: 20 }), fc.integer({ min: -40, max: 60 }), fc.integer({ min: 0, max: 20 }), fc.integer({ min: -40, max: 60 }))
    .map((four) => four.map((n) => n / 20) as [number, number, number, number]),
)
const aTrack: fc.Arbitrary<Track> = fc
  .uniqueArray(fc.tuple(fc.integer({ min: 0, max: 95 }), aNumber, anEase), { minLength: 1, maxLength: 6, selector: ([at]) => at })
  .map((list) => track.parse({ keys: list.sort((a, b) => a[0] - b[0]).map(([at, value, ease]) => ({ at, value, ease })) }))

describe('the course of a number', () => {
  it('goes through every key, within what it reaches, and is fastest once', () => {
    fc.assert(
      fc.property(aTrack, (of) => {
        const { values, speeds, low, high } = courseOf(of, 96)
        for (const { at, value } of keysOf(of)) expect(values[(at * (values.length - 1)) / 95]).toBeCloseTo(value, 9)
        for (const v of values) expect(v > low && v < high).toBe(true)
        expect(speeds).toHaveLength(values.length - 1)
        const moves = values.some((v) => v !== values[0])
        expect(Math.max(...speeds)).toBe(moves ? 1 : 0)
        expect(Math.min(...speeds)).toBeGreaterThanOrEqual(0)
      }),
    )
  })

  it('leaves and reaches its keys towards its handles', () => {
    fc.assert(
      fc.property(aTrack, (of) => {
        keysOf(of)
          .slice(1)
          .forEach((b, i) => {
            const a = keysOf(of)[i]
            const out = handleOf(a, b, false)
            if (a.ease === 'hold') {
              expect(out).toBeUndefined()
              return
            }
            if (!out || out.at - a.at < 1e-6) return
            // an even way is even, whatever its handles
            // the slope where it leaves is that of the handle
            const little = 1e-5 * (out.at - a.at)
            const slope = (Number(valueAt(of, a.at + little)) - a.value) / little
            const towards = (out.value - a.value) / (out.at - a.at)
            expect(Math.abs(slope - towards)).toBeLessThan(0.02 * (1 + Math.abs(towards) + Math.abs(b.value - a.value)))
          })
      }),
    )
  })

  it('takes a handle where it is put, no further than the keys in time', () => {
    fc.assert(
      fc.property(aTrack, fc.boolean(), fc.integer({ min: -20, max: 120 }), aNumber, (of, second, frame, value) => {
        const [a, b] = keysOf(of)
        fc.pre(b !== undefined && a.value !== b.value)
        const ease = easeWith(a, b, second, frame, value)
        expect(track.safeParse({ ...of, keys: [{ ...a, ease }, b] }).success).toBe(true)
        fc.pre(ease[0] !== ease[1] || ease[2] !== ease[3])
        const put = handleOf({ ...a, ease: [...ease] }, b, second)
        expect(put?.at).toBeCloseTo(Math.min(b.at, Math.max(a.at, frame)), 0)
        const [least, most] = [-2, 3].map((n) => a.value + n * (b.value - a.value)).sort((p, q) => p - q)
        expect(Math.abs((put?.value ?? NaN) - Math.min(most, Math.max(least, value)))).toBeLessThan(1e-3 * Math.abs(b.value - a.value))
        // the other handle stays
        const other = handleOf({ ...a, ease: a.ease === 'hold' ? 'even' : a.ease }, b, !second)
        expect(handleOf({ ...a, ease: [...ease] }, b, !second)).toEqual(other)
      }),
    )
  })

  it('is there for numbers alone, and its figures are as fine as can be told apart', () => {
    expect(hasCourse(track.parse({ keys: [{ at: 0, value: 3 }] }))).toBe(true)
    for (const value of ['#c0ffee', true, [1, 2, 3]]) expect(hasCourse(track.parse({ keys: [{ at: 0, value }] }))).toBe(false)
    expect(roundedFor({ low: 0, high: 360 }, 41.23456)).toBe(41)
    expect(roundedFor({ low: 0, high: 1 }, 0.123456)).toBe(0.123)
    expect(roundedFor({ low: -4, high: 5 }, -0.001)).toBe(0)
    // one that stands still has room above and below
    const { low, high } = courseOf(track.parse({ keys: [{ at: 4, value: 20 }] }), 24)
    expect(low).toBeLessThan(20)
    expect(high).toBeGreaterThan(20)
  })
})
