import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { plainSolid } from '../../test/bodies'
import { boxMesh } from '../../test/helpers'
import { loadManifold } from '../kernel/manifold'
import type { Apart, Thing } from '../repeat/apart'
import type { Assembly } from '../solid/assembly'
import { NONE } from '../solid/labels'
import { type Solid, solidBounds } from '../solid/solid'
import { insideEachOther, touching } from './touching'

beforeAll(async () => void (await loadManifold()))

type Box = readonly [number, number, number, number, number, number]

function bodies(boxes: readonly Box[], shards: readonly boolean[] = []): { apart: Pick<Apart, 'things' | 'assembly'>; solids: Solid[] } {
  const solids = boxes.map((box) => {
    const { positions, indices } = boxMesh(...box)
    return plainSolid(positions, indices)
  })
  const things = solids.map(
    (solid, i): Thing => ({ order: i, lot: i, letters: [i], entries: [i], box: solidBounds(solid.positions) as unknown as Thing['box'] }),
  )
  const shard = Int32Array.from(boxes, (_, i) => (shards[i] ? i : NONE))
  return { apart: { things, assembly: { placements: { shard } } as unknown as Assembly }, solids }
}

/** How far two boxes are from each other, and how much of the smaller one's volume they share: by their sides alone. */
function between(p: Box, q: Box): { gap: number; shared: number } {
  const off = [0, 1, 2].map((k) => Math.max(p[k], q[k]) - Math.min(p[k + 3], q[k + 3]))
  const volume = (b: Box) => (b[3] - b[0]) * (b[4] - b[1]) * (b[5] - b[2])
  return {
    gap: Math.hypot(...off.map((d) => Math.max(0, d))),
    shared: off.reduce((product, d) => product * Math.max(0, -d), 1) / Math.min(volume(p), volume(q)),
  }
}

const pairsOf = (boxes: readonly Box[]) => boxes.flatMap((p, i) => boxes.slice(i + 1).map((q, j) => ({ one: i, other: i + 1 + j, ...between(p, q) })))

/** Boxes on a coarse raster, so that they often share sides, edges and corners, drawn in a little or not at all. */
const box = fc
  .tuple(fc.integer({ min: 0, max: 5 }), fc.integer({ min: 0, max: 5 }), fc.integer({ min: 0, max: 3 }), fc.constantFrom(0, 0.01, 0.02, 0.04, 0.2))
  .map(([x, y, z, draw]): Box => [4 * x + draw, 4 * y + draw, 4 * z + draw, 4 * x + 4 - draw, 4 * y + 4 - draw, 4 * z + 4 - draw])

describe('what touches', () => {
  it('is what lies within a twentieth of a millimetre, each pair once, and where is told', () => {
    fc.assert(
      fc.property(fc.array(box, { minLength: 2, maxLength: 9 }), (boxes) => {
        // two in one place are no neighbours
        const own = boxes.filter((b, i) => boxes.findIndex((o) => between(b, o).shared > 0) === i)
        const { apart, solids } = bodies(own)
        const found = touching(apart.things, solids)
        // gaps so near to the limit that rounding may decide are left out
        const sure = pairsOf(own).filter(({ gap }) => Math.abs(gap - 0.05) > 1e-3)
        for (const { one, other, gap } of sure) expect(found.some((f) => f.one === one && f.other === other)).toBe(gap < 0.05)
        expect(new Set(found.map(({ one, other }) => `${one} ${other}`)).size).toBe(found.length)
        for (const { one, other, at } of found)
          for (const b of [own[one], own[other]])
            for (let k = 0; k < 3; k++) {
              expect(at[k]).toBeGreaterThanOrEqual(b[k] - 0.05)
              expect(at[k]).toBeLessThanOrEqual(b[k + 3] + 0.05)
            }
      }),
      { numRuns: 60 },
    )
  })

  it('is nothing among no things, or one', () => {
    expect(touching([], [])).toEqual([])
    const { apart, solids } = bodies([[0, 0, 0, 1, 1, 1]])
    expect(touching(apart.things, solids)).toEqual([])
  })
})

describe('what begins inside each other', () => {
  const anywhere = fc
    .tuple(fc.double({ min: 0, max: 12, noNaN: true }), fc.double({ min: 0, max: 12, noNaN: true }), fc.double({ min: 0, max: 12, noNaN: true }))
    .map(([x, y, z]): Box => [x, y, z, x + 5, y + 5, z + 5])

  it('counts pairs that share more than a thousandth of the smaller one', () => {
    fc.assert(
      fc.property(fc.array(anywhere, { minLength: 2, maxLength: 7 }), (boxes) => {
        const pairs = pairsOf(boxes)
        fc.pre(pairs.every(({ shared }) => Math.abs(shared - 1e-3) > 1e-4))
        const { apart, solids } = bodies(boxes)
        expect(insideEachOther(apart, solids)).toBe(pairs.filter(({ shared }) => shared > 1e-3).length)
      }),
      { numRuns: 60 },
    )
  })

  it('does not ask shards, which fit each other, but asks a shard and a letter', () => {
    const boxes: Box[] = [
      [0, 0, 0, 4, 4, 4],
      [3, 0, 0, 7, 4, 4],
      [6, 0, 0, 10, 4, 4],
    ]
    const count = (shards: boolean[]) => {
      const { apart, solids } = bodies(boxes, shards)
      return insideEachOther(apart, solids)
    }
    expect(count([false, false, false])).toBe(2)
    expect(count([true, true, true])).toBe(0)
    expect(count([true, true, false])).toBe(1)
    expect(count([false, true, false])).toBe(2)
  })

  it('tells a small thing deep in a large one, though it is little of that', () => {
    const { apart, solids } = bodies([
      [0, 0, 0, 100, 100, 100],
      [50, 50, 50, 50.5, 50.5, 50.5],
    ])
    expect(insideEachOther(apart, solids)).toBe(1)
  })
})
