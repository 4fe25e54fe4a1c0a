import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { crossingPairs } from '../check/crossings'
import { PartCrossings } from './part-crossings'

/** Triangles on a small grid, so that corners are shared and planes met, in so many parts. */
const meshes = fc
  .record({
    points: fc.array(fc.tuple(fc.integer({ min: 0, max: 6 }), fc.integer({ min: 0, max: 6 }), fc.integer({ min: 0, max: 6 })), { minLength: 6, maxLength: 24 }),
    corners: fc.array(fc.tuple(fc.nat(1000), fc.nat(1000), fc.nat(1000), fc.nat(3)), { minLength: 4, maxLength: 30 }),
  })
  .map(({ points, corners }) => {
    const whole = corners
      .map(([a, b, c, part]) => [a % points.length, b % points.length, c % points.length, part])
      .filter(([a, b, c]) => a !== b && b !== c && a !== c)
    return {
      positions: Float64Array.from(points.flat()),
      indices: Uint32Array.from(whole.flatMap(([a, b, c]) => [a, b, c])),
      owners: Uint32Array.from(whole, ([, , , part]) => part),
    }
  })

const sorted = (pairs: readonly (readonly [number, number])[]) => pairs.map(([s, t]) => `${Math.min(s, t)} ${Math.max(s, t)}`).sort()

describe('Crossings by parts', () => {
  it('are those of the whole, but for those within a part', () => {
    let some = 0
    fc.assert(
      fc.property(meshes, ({ positions, indices, owners }) => {
        const parts = new PartCrossings(positions, indices, owners, 5, Infinity)
        const met = new Set<string>()
        parts.forMeeting((one, other) => {
          met.add(`${Math.min(one, other)} ${Math.max(one, other)}`)
          parts.between(one, other)
        })
        const whole = crossingPairs(positions, indices, Infinity).filter(([s, t]) => owners[s] !== owners[t])
        expect(sorted(parts.found)).toEqual(sorted(whole))
        some += whole.length
        // parts that do not meet have nothing in common, whoever asks
        const before = parts.found.length
        for (let one = 0; one < 5; one++) for (let other = 0; other < one; other++) if (!met.has(`${other} ${one}`)) parts.between(one, other)
        expect(parts.found.length).toBe(before)
      }),
      { numRuns: 300 },
    )
    expect(some).toBeGreaterThan(1000)
  })

  it('are no more than are looked for', () => {
    fc.assert(
      fc.property(meshes, fc.integer({ min: 1, max: 5 }), ({ positions, indices, owners }, most) => {
        const parts = new PartCrossings(positions, indices, owners, 4, most)
        parts.forMeeting((one, other) => parts.between(one, other))
        expect(parts.found.length).toBeLessThanOrEqual(most)
        expect(parts.full).toBe(parts.found.length === most)
      }),
    )
  })
})
