import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { crossingPairs } from './crossings'
import { edgesOf, oppositesOf } from './edges'
import { planesOf, trianglesCross } from './triangles'
import { within } from '../../test/within'

const triangles = (vertices: number) => fc.array(fc.tuple(fc.nat(vertices - 1), fc.nat(vertices - 1), fc.nat(vertices - 1)), { maxLength: 60 })
const ends = (indices: Uint32Array, h: number) => [indices[h], indices[h % 3 === 2 ? h - 2 : h + 1]]

describe('edges', () => {
  it('are one number for each pair of ends, whichever way they are run along', () => {
    fc.assert(
      fc.property(triangles(12), (list) => {
        const indices = Uint32Array.from(list.flat())
        const { edge, count } = edgesOf(indices)
        const names = Array.from(indices, (_, h) =>
          ends(indices, h)
            .sort((a, b) => a - b)
            .join(),
        )
        expect(count).toBe(new Set(names).size)
        names.forEach((name, h) => names.forEach((other, g) => expect(edge[h] === edge[g]).toBe(name === other)))
      }),
      { numRuns: 200 },
    )
  })

  it('give the half-edge that runs the other way, where there is one', () => {
    fc.assert(
      fc.property(triangles(8), (list) => {
        const indices = Uint32Array.from(list.filter(([a, b, c]) => a !== b && b !== c && c !== a).flat())
        const opposite = oppositesOf(indices)
        indices.forEach((_, h) => {
          const [a, b] = ends(indices, h)
          const other = Array.from(indices, (_, g) => g).findLast((g) => ends(indices, g)[0] === b && ends(indices, g)[1] === a)
          expect(opposite[h]).toBe(other ?? -1)
        })
      }),
      { numRuns: 200 },
    )
  })

  it('take no longer where thousands of triangles meet in one vertex', async () => {
    const rim = 200_000
    const indices = new Uint32Array(3 * rim)
    for (let t = 0; t < rim; t++) indices.set([rim, t, (t + 1) % rim], 3 * t)
    expect((await within(2000, () => edgesOf(indices))).count).toBe(2 * rim)
  })
})

describe('triangles that cross', () => {
  // few places, so that many pairs share corners, lie in one plane or only just touch
  const place = fc.constantFrom(0, 1, 2, 0.1, 0.3, 1 + 2 ** -40, 0.1 + 2 ** -50)
  it('are the same with and without planes worked out before', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(place, place, place), { minLength: 5, maxLength: 8 }), triangles(5), (points, list) => {
        const positions = Float64Array.from(points.flat())
        const indices = Uint32Array.from(list.filter(([a, b, c]) => a !== b && b !== c && c !== a).flat())
        const planes = planesOf(positions, indices)
        const count = indices.length / 3
        const plain: string[] = []
        for (let s = 0; s < count; s++)
          for (let t = s + 1; t < count; t++) {
            const cross = trianglesCross(positions, indices, s, t)
            expect(trianglesCross(positions, indices, s, t, planes)).toBe(cross)
            if (cross) plain.push(`${s} ${t}`)
          }
        const found = crossingPairs(positions, indices, Infinity).map(([s, t]) => (s < t ? `${s} ${t}` : `${t} ${s}`))
        expect(found.sort()).toEqual(plain.sort())
      }),
      { numRuns: 2000 },
    )
  })
})
