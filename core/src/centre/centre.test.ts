import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { SHIPPED_FACES } from '../../fonts/catalogue'
import { assets, FULL, wordRoute } from '../../test/helpers'
import { evaluateRoute } from '../evaluate/route'
import { loadManifold } from '../kernel/manifold'
import type { Outline } from '../outline/outline'
import { PathBuilder } from '../outline/path'
import { type PolygonSet, regionPolygons, winding } from '../outline/polygon'
import { type Axis, axisOf, branchesOf } from './axis'
import { lengthsOf, resampled, type Spot, spotAt } from './line'
import { eroded, pruned } from './prune'
import { centreStrokes } from './strokes'

const LATTICE = 2 ** -14

beforeAll(async () => void (await loadManifold()))

const rings = (...list: [number, number][][]): PolygonSet =>
  regionPolygons(
    {
      members: [
        {
          letter: 0,
          paths: list.map(([[x, y], ...rest]) => {
            const path = new PathBuilder(x, y)
            for (const [u, v] of rest) path.lineTo(u, v)
            return path.build(true)
          }),
        },
      ],
    },
    0.01,
    LATTICE,
  )

async function letters(text: string, face: string, axes?: Record<string, number>): Promise<PolygonSet[]> {
  const { value } = await evaluateRoute(wordRoute(text, face, { size: 40, ...(axes ? { axes } : {}) }).slice(0, 1), { assets })
  const outline = value as Outline
  return outline.regions.map((region) => regionPolygons(region, 0.01, outline.lattice))
}

/** The distance to the outline, side by side, and where it is met. */
function nearest(set: PolygonSet, x: number, y: number): { distance: number; at: [number, number] } {
  let best = { distance: Infinity, at: [0, 0] as [number, number] }
  for (const { xy } of set.rings)
    for (let i = 0, j = xy.length - 2; i < xy.length; j = i, i += 2) {
      const [ex, ey] = [xy[i] - xy[j], xy[i + 1] - xy[j + 1]]
      const f = Math.max(0, Math.min(1, ((x - xy[j]) * ex + (y - xy[j + 1]) * ey) / (ex * ex + ey * ey)))
      const at: [number, number] = [xy[j] + f * ex, xy[j + 1] + f * ey]
      const distance = Math.hypot(x - at[0], y - at[1])
      if (distance < best.distance) best = { distance, at }
    }
  return best
}

const strokesOf = (set: PolygonSet) => centreStrokes(set).filter(({ dot }) => !dot)
const clean = (set: PolygonSet): Axis => pruned(eroded(axisOf(set), ({ angle }) => angle < 20))

describe('an axis', () => {
  it.each(FULL ? SHIPPED_FACES.map(({ id }) => id) : ['jost-bold', 'abril-fatface', 'unifraktur-cook'])(
    'of %s has the circles that touch the outline: radii within a hundredth of the exact distance',
    async (face) => {
      for (const set of await letters('Rg8&', face)) {
        const axis = axisOf(set)
        axis.links.forEach((list, n) => {
          if (list.length === 0 || axis.r[n] < 0.05) return
          expect(winding(set.rings, axis.x[n], axis.y[n])).toBeGreaterThan(0)
          expect(Math.abs(nearest(set, axis.x[n], axis.y[n]).distance / axis.r[n] - 1)).toBeLessThan(0.01)
        })
      }
    },
  )

  it('has as many rings as the area has holes, and one part for each of its parts, before and after pruning', async () => {
    for (const set of await letters('B8Oei%', 'jost-bold')) {
      for (const axis of [axisOf(set), clean(set)]) {
        const nodes = axis.links.filter((list) => list.length > 0).length
        const links = axis.links.reduce((sum, list) => sum + list.length, 0) / 2
        const outer = set.rings.filter(({ xy }) => ring(xy) > 0).length
        // Euler: links − nodes + parts = rings
        expect(links - nodes + outer).toBe(set.rings.length - outer)
      }
    }
  })

  it('is the middle line of a bar, whose spurs are pruned, with every link in one branch', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.5, max: 3, noNaN: true }), fc.double({ min: 12, max: 40, noNaN: true }), (half, length) => {
        const axis = clean(
          rings([
            [0, -half],
            [length, -half],
            [length, half],
            [0, half],
          ]),
        )
        axis.links.forEach((list, n) => list.length > 0 && axis.x[n] > half && axis.x[n] < length - half && expect(axis.y[n]).toBeCloseTo(0, 3))
        const walked = branchesOf(axis).reduce((sum, { nodes }) => sum + nodes.length - 1, 0)
        expect(walked).toBe(axis.links.reduce((sum, list) => sum + list.length, 0) / 2)
      }),
      { numRuns: 30 },
    )
  })
})

const ring = (xy: ArrayLike<number>) => {
  let sum = 0
  for (let i = 0, j = xy.length - 2; i < xy.length; j = i, i += 2) sum += xy[j] * xy[i + 1] - xy[i] * xy[j + 1]
  return sum
}

describe('centre strokes', () => {
  it('of a T are its bar and its stem, along their middles and out to their ends, from left to right and from the top down', () => {
    const set = rings([
      [0, 36],
      [13, 36],
      [13, 0],
      [17, 0],
      [17, 36],
      [30, 36],
      [30, 40],
      [0, 40],
    ])
    const strokes = strokesOf(set)
    expect(strokes.length).toBe(2)
    const bar = strokes.find(({ points }) => Math.abs(points[0][1] - points[points.length - 1][1]) < 1)
    const stem = strokes.find((stroke) => stroke !== bar)
    for (const [, y, r] of bar?.points ?? []) expect([y, r].map((v) => Math.round(10 * v))).toEqual([380, 20])
    expect(bar?.points[0][0]).toBeLessThan(0.2)
    expect(bar?.points.at(-1)?.[0]).toBeGreaterThan(29.8)
    for (const [x] of stem?.points ?? []) expect(x).toBeCloseTo(15, 1)
    expect(stem?.points[0][1]).toBeGreaterThan(36)
    expect(stem?.points.at(-1)?.[1]).toBeLessThan(0.2)
  })

  it('are as many as one writes, in an upright face light and bold', async () => {
    const written: Record<string, number> = { C: 1, D: 2, E: 4, F: 3, H: 3, I: 1, K: 3, L: 2, N: 3, O: 1, P: 2, R: 3, S: 1, T: 2, U: 1, V: 2, W: 4, Z: 3 }
    for (const [face, axes] of [
      ['jost-bold', undefined],
      ['anybody', { wght: 100 }],
    ] as const) {
      const sets = await letters(Object.keys(written).join(' '), face, axes)
      expect(sets.map((set) => strokesOf(set).length)).toEqual(Object.values(written))
      expect(strokesOf(sets[Object.keys(written).indexOf('O')])[0].closed).toBe(true)
    }
  })

  it('of a round dot are its middle', () => {
    const disc = rings(Array.from({ length: 60 }, (_, i): [number, number] => [5 * Math.cos((i * Math.PI) / 30), 3 + 5 * Math.sin((i * Math.PI) / 30)]))
    const [dot, ...others] = centreStrokes(disc)
    expect(others).toEqual([])
    expect(dot.dot).toBe(true)
    for (const [i, v] of [0, 3, 5].entries()) expect(dot.points[0][i]).toBeCloseTo(v, 1)
  })

  it('grow and move with the letter, and lie within it', async () => {
    for (const face of FULL ? SHIPPED_FACES.map(({ id }) => id) : ['fredoka', 'pacifico'])
      for (const set of await letters('Rey', face))
        for (const { points } of centreStrokes(set)) {
          const off = points.filter(([x, y]) => winding(set.rings, x, y) <= 0 && nearest(set, x, y).distance > 0.3)
          expect(off).toEqual([])
        }
  })
})

describe('a line', () => {
  const line = fc.array(
    fc.tuple(fc.double({ min: -50, max: 50, noNaN: true }), fc.double({ min: -50, max: 50, noNaN: true }), fc.double({ min: 0.1, max: 5, noNaN: true })),
    { minLength: 2, maxLength: 20 },
  )
  it('keeps its ends when it is cut into even steps, and has places at all lengths', () => {
    fc.assert(
      fc.property(line, fc.double({ min: 0.3, max: 5, noNaN: true }), (points, step) => {
        const lengths = lengthsOf(points)
        const whole = lengths[lengths.length - 1]
        fc.pre(whole > 1)
        const even = resampled(points, step)
        expect(even[0]).toEqual(points[0])
        ;(even[even.length - 1] as Spot).forEach((v, k) => expect(v).toBeCloseTo(points[points.length - 1][k], 9))
        for (let i = 1; i < even.length; i++)
          expect(Math.hypot(even[i][0] - even[i - 1][0], even[i][1] - even[i - 1][1])).toBeLessThanOrEqual(whole / (even.length - 1) + 1e-9)
        lengths.forEach((s, i) => {
          const at = spotAt(points, lengths, s)
          expect(Math.hypot(at[0] - points[i][0], at[1] - points[i][1])).toBeLessThan(1e-9)
        })
      }),
    )
  })
})
