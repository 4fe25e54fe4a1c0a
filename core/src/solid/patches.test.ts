import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { ballBody } from '../../test/bodies'
import { boxMesh, together } from '../../test/helpers'
import { patchesOf } from './patches'

/** Sides of triangles of one kind that have none of that kind beyond them, as words, from → to. */
function borders(indices: ArrayLike<number>, members: ReadonlySet<number>): Set<string> {
  const sides = new Set<string>()
  for (const t of members) for (let k = 0; k < 3; k++) sides.add(`${indices[3 * t + k]}>${indices[3 * t + ((k + 1) % 3)]}`)
  return new Set([...sides].filter((side) => !sides.has(side.split('>').reverse().join('>'))))
}

describe('patches', () => {
  const ball = ballBody(10, 4)
  const count = ball.indices.length / 3
  const kinds = fc.array(fc.integer({ min: -1, max: 2 }), { minLength: count, maxLength: count })

  it('hold every triangle that is of a kind once, hang together, and their rings are their borders, each side once', () => {
    fc.assert(
      fc.property(kinds, (of) => {
        const patches = patchesOf(ball.indices, (t) => of[t])
        const all = patches.flatMap(({ triangles }) => triangles)
        expect([...all].sort((a, b) => a - b)).toEqual(of.flatMap((kind, t) => (kind >= 0 ? [t] : [])))
        let last = -1
        for (const { kind, triangles, rings } of patches) {
          // in the order of their first triangles
          expect(triangles[0]).toBeGreaterThan(last)
          last = triangles[0]
          const members = new Set(triangles)
          for (const t of triangles) expect(of[t]).toBe(kind)
          // hanging together over sides, by a search of our own
          const reached = new Set([triangles[0]])
          for (const t of reached)
            for (const o of members) {
              if (reached.has(o)) continue
              const own = ball.indices.subarray(3 * t, 3 * t + 3)
              if ([...ball.indices.subarray(3 * o, 3 * o + 3)].filter((v) => own.includes(v)).length === 2) reached.add(o)
            }
          expect(reached.size).toBe(members.size)
          const wanted = borders(ball.indices, members)
          const sides = rings.flatMap((ring) => ring.map((v, i) => `${v}>${ring[(i + 1) % ring.length]}`))
          expect(sides.length).toBe(wanted.size)
          expect(new Set(sides)).toEqual(wanted)
        }
        // no two of one kind lie side by side: they would be one
        const numberOf = new Map(patches.flatMap(({ triangles }, i) => triangles.map((t) => [t, i] as const)))
        for (let t = 0; t < count; t++)
          for (let o = t + 1; o < count; o++) {
            if (of[t] < 0 || of[t] !== of[o] || numberOf.get(t) === numberOf.get(o)) continue
            const own = ball.indices.subarray(3 * t, 3 * t + 3)
            expect([...ball.indices.subarray(3 * o, 3 * o + 3)].filter((v) => own.includes(v)).length).toBeLessThan(2)
          }
      }),
      { numRuns: 25 },
    )
  })

  it('of a box by its sides are six squares with one ring of four', () => {
    const { indices } = boxMesh(0, 0, 0, 1, 2, 3)
    const patches = patchesOf(indices, (t) => t >> 1)
    expect(patches).toHaveLength(6)
    for (const { triangles, rings } of patches) {
      expect(triangles).toHaveLength(2)
      expect(rings.map((ring) => ring.length)).toEqual([4])
      expect(new Set(rings[0]).size).toBe(4)
    }
  })

  it('that are a whole body have no border, and bodies are patches of their own', () => {
    const { indices } = together(boxMesh(0, 0, 0, 1, 1, 1), boxMesh(3, 0, 0, 4, 1, 1))
    const patches = patchesOf(indices, () => 0)
    expect(patches.map(({ triangles, rings }) => [triangles.length, rings])).toEqual([
      [12, []],
      [12, []],
    ])
    expect(patchesOf(indices, () => -1)).toEqual([])
  })
})
