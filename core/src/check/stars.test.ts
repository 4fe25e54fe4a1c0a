import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { crossingPairs } from './crossings'
import { Stars } from './stars'
import { planesOf, trianglesCross } from './triangles'

/** A fan about vertex 0, closed below by vertex 1: a double cone over a ring. */
function doubleCone(ring: readonly (readonly [number, number, number])[], top: readonly number[] = [0, 0, 1], bottom: readonly number[] = [0, 0, -1]) {
  const positions = Float64Array.from([...top, ...bottom, ...ring.flat()])
  const indices = Uint32Array.from(ring.flatMap((_, i) => [0, 2 + i, 2 + ((i + 1) % ring.length), 1, 2 + ((i + 1) % ring.length), 2 + i]))
  return { positions, indices }
}

/** Of each vertex whether its star is seen to be spread. */
function spread({ positions, indices }: { positions: Float64Array; indices: Uint32Array }): boolean[] {
  const stars = new Stars(positions, indices, planesOf(positions, indices))
  return Array.from({ length: positions.length / 3 }, (_, v) => stars.isSpread(v))
}

/** Pairs in an order of their own. */
const named = (pairs: readonly (readonly number[])[]) => pairs.map(([s, t]) => `${Math.min(s, t)}-${Math.max(s, t)}`).sort()

/** All pairs that cross, each tried exactly. */
function crossing(positions: Float64Array, indices: Uint32Array): [number, number][] {
  const out: [number, number][] = []
  for (let s = 0; 3 * s < indices.length; s++) for (let t = s + 1; 3 * t < indices.length; t++) if (trianglesCross(positions, indices, s, t)) out.push([s, t])
  return out
}

const round = (corners: number, turns = 1): [number, number, number][] =>
  Array.from({ length: corners }, (_, i) => [Math.cos((2 * Math.PI * turns * i) / corners), Math.sin((2 * Math.PI * turns * i) / corners), 0])

describe('stars of vertices', () => {
  it('are spread on a convex body', () => {
    fc.assert(
      fc.property(fc.integer({ min: 3, max: 20 }), fc.double({ min: 0.1, max: 3, noNaN: true }), (corners, height) => {
        expect([...spread(doubleCone(round(corners), [0, 0, height]))].slice(0, 2)).toEqual([true, true])
      }),
    )
  })

  it('are not where the fan goes round twice, is open, or is two', () => {
    expect(spread(doubleCone(round(5, 2)))[0]).toBe(false)
    const { positions, indices } = doubleCone(round(6))
    expect(spread({ positions, indices: indices.slice(6) })[0]).toBe(false)
    // a second cone at the same tip
    const both = {
      positions: Float64Array.from([...positions, ...positions]),
      indices: Uint32Array.from([...indices, ...indices.map((v) => (v === 0 ? 0 : v + 8))]),
    }
    expect(spread(both)[0]).toBe(false)
  })

  it('that are spread have no two triangles that cross, and pairs that cross are found all the same', () => {
    const place = fc.tuple(...[0, 1, 2].map(() => fc.integer({ min: -6, max: 6 }))) as unknown as fc.Arbitrary<[number, number, number]>
    let [flagged, crossed] = [0, 0]
    fc.assert(
      fc.property(fc.array(place, { minLength: 3, maxLength: 8 }), place, place, fc.boolean(), (wild, top, bottom, tame) => {
        // a ring that is bent a little or not a ring at all
        const ring = tame
          ? round(wild.length).map((at, i): [number, number, number] => [8 * at[0] + wild[i][0] / 3, 8 * at[1] + wild[i][1] / 3, wild[i][2] / 3])
          : wild
        const { positions, indices } = doubleCone(ring, tame ? [top[0] / 2, top[1] / 2, 9] : top, tame ? [0, 0, -9] : bottom)
        const exact = crossing(positions, indices)
        const stars = spread({ positions, indices })
        stars.forEach((is, v) => {
          if (!is) return
          flagged++
          const star = (t: number) => [0, 1, 2].some((k) => indices[3 * t + k] === v)
          expect(exact.filter(([s, t]) => star(s) && star(t))).toEqual([])
        })
        if (exact.length > 0) crossed++
        expect(named(crossingPairs(positions, indices, Infinity))).toEqual(named(exact))
      }),
      { numRuns: 600 },
    )
    expect(flagged).toBeGreaterThan(300)
    expect(crossed).toBeGreaterThan(100)
  })
})
