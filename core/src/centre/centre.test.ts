import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { assetSource, findFont } from '../../cli/io'
import { SHIPPED_FACES } from '../../fonts/catalogue'
import { assets, FULL, wordRoute } from '../../test/helpers'
import { hashBytes } from '../cache/hash'
import { evaluateRoute } from '../evaluate/route'
import { unpackFont } from '../font/unpack'
import { loadManifold } from '../kernel/manifold'
import type { Outline } from '../outline/outline'
import { PathBuilder } from '../outline/path'
import { type PolygonSet, regionPolygons, winding } from '../outline/polygon'
import { type Axis, axisOf, branchesOf } from './axis'
import { lengthsOf, resampled, type Spot, spotAt } from './line'
import { eroded, pruned } from './prune'
import { type CentreStroke, centreStrokes } from './strokes'

const LATTICE = 2 ** -14

beforeAll(async () => void (await loadManifold()))

/** In how many strokes the letters of an upright face are written; where hands differ, all of them. */
const WRITTEN: Readonly<Record<string, readonly number[]>> = {
  ...{ A: [3], B: [2, 3], C: [1], D: [2], E: [4], F: [3], G: [2, 3], H: [3], I: [1, 3], J: [1, 2], K: [2, 3], L: [2], M: [4] },
  ...{ N: [3], O: [1], P: [2], Q: [2], R: [3], S: [1], T: [2], U: [1, 2], V: [2], W: [4], X: [2], Y: [2, 3], Z: [3] },
  ...{ a: [2], b: [2], c: [1], d: [2], e: [1, 2], f: [2], g: [2], h: [2], i: [2], j: [2], k: [2, 3], l: [1], m: [3] },
  ...{ n: [2], o: [1], p: [2], q: [2], r: [2], s: [1], t: [2], u: [1, 2], v: [2], w: [4], x: [2], y: [2], z: [3] },
  ...{ '0': [1], '1': [2, 3], '2': [1, 2], '3': [1, 2], '4': [3], '5': [2, 3], '6': [1, 2], '7': [2], '8': [1, 2], '9': [1, 2] },
}
const WRITTEN_LETTERS = Object.keys(WRITTEN).join('')

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

/** The radius of the largest circle within an area that touches a border from inside, by brute force: no other border is nearer than that. */
function largestCircle(set: PolygonSet, [x, y]: readonly [number, number], nx: number, ny: number): number {
  let [low, high] = [0, 200]
  for (let i = 0; i < 40; i++) {
    const t = (low + high) / 2
    if (nearest(set, x + t * nx, y + t * ny).distance >= t - 1e-9) low = t
    else high = t
  }
  return low
}

/** Centres of the largest circles that touch the sides of an area at places all along: x, y, and the angle between where it touches and where it touches first elsewhere, degrees. */
function exactCentres(set: PolygonSet): [number, number, number][] {
  const out: [number, number, number][] = []
  for (const { xy } of set.rings)
    for (let i = 0, j = xy.length - 2; i < xy.length; j = i, i += 2) {
      const [ex, ey] = [xy[i] - xy[j], xy[i + 1] - xy[j + 1]]
      const size = Math.hypot(ex, ey)
      const [nx, ny] = [-ey / size, ex / size]
      const count = Math.max(1, Math.min(FULL ? 6 : 3, Math.ceil(size)))
      for (let k = 0; k < count; k++) {
        const f = (k + 0.5) / count
        const [x, y] = [xy[j] + f * ex, xy[j + 1] + f * ey]
        const t = largestCircle(set, [x, y], nx, ny)
        if (t < 0.05) continue
        // a little beyond it, the nearest border is the other one
        const [cx, cy] = [x + t * nx, y + t * ny]
        const { at } = nearest(set, cx + 1e-4 * nx, cy + 1e-4 * ny)
        const cosine = ((x - cx) * (at[0] - cx) + (y - cy) * (at[1] - cy)) / (t * Math.hypot(at[0] - cx, at[1] - cy))
        out.push([cx, cy, (Math.acos(Math.max(-1, Math.min(1, cosine))) * 180) / Math.PI])
      }
    }
  return out
}

/** How far apart spots along an axis are, mm. */
const SPACING = 0.01

/** Spots all along the links of an axis, with the radius there. */
function alongLinks(axis: Axis): [number, number, number][] {
  const out: [number, number, number][] = []
  axis.links.forEach((list, n) => {
    for (const { to } of list) {
      if (to < n) continue
      const count = Math.max(1, Math.ceil(Math.hypot(axis.x[to] - axis.x[n], axis.y[to] - axis.y[n]) / SPACING))
      for (let k = 0; k <= count; k++) out.push([axis.x, axis.y, axis.r].map((of) => of[n] + (k / count) * (of[to] - of[n])) as [number, number, number])
    }
  })
  return out
}

const median = (list: number[]) => list.sort((a, b) => a - b)[list.length >> 1]

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

  it.each([
    ['anybody', { wght: 100 }],
    ['fraunces', { wght: 100 }],
  ])('of %s %o, a light face, is the exact one within a hundredth of the stem, both ways', async (face, axes) => {
    const sets = await letters(FULL ? [...WRITTEN_LETTERS].join(' ') : 'R g 8 &', face, axes)
    for (const set of sets) {
      const axis = eroded(axisOf(set), ({ angle }) => angle < 20)
      const spots = alongLinks(axis)
      const stem = 2 * median(spots.map(([, , r]) => r))
      // each centre of an exact circle is at the axis
      for (const [x, y, angle] of exactCentres(set)) {
        if (angle < 40) continue
        expect(Math.min(...spots.map(([u, v]) => Math.hypot(u - x, v - y)))).toBeLessThan(0.01 * stem + SPACING / 2)
      }
      // and each place of the axis at such a centre: the one whose circle touches where the nearest border is
      axis.links.forEach((list, n) => {
        for (const { to, angle } of list) {
          if (to < n || angle < 40) continue
          const [x, y] = [(axis.x[n] + axis.x[to]) / 2, (axis.y[n] + axis.y[to]) / 2]
          const { distance, at } = nearest(set, x, y)
          if (distance < 0.05) continue
          const [dx, dy] = [(x - at[0]) / distance, (y - at[1]) / distance]
          const t = largestCircle(set, at, dx, dy)
          expect(Math.abs(t - distance)).toBeLessThan(0.01 * stem)
        }
      })
    }
  })

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

  it.each([
    ['Jost Light', readFileSync(createRequire(import.meta.url).resolve('@fontsource/jost/files/jost-latin-300-normal.woff2')), undefined],
    ['Anybody at its lightest', findFont('anybody').bytes, { wght: 100 }],
  ] as const)('are as many as one writes in at least 95 of 100 letters of %s, in the order they are written in', async (_, file, axes) => {
    const [bytes] = await unpackFont(new Uint8Array(file))
    const sha256 = hashBytes(bytes)
    const text = [...WRITTEN_LETTERS].join(' ')
    const route = [{ id: 'words', kind: 'lettering', on: true, params: { text, size: 40, font: { sha256, name: 'Light' }, ...(axes ? { axes } : {}) } }]
    const { value } = await evaluateRoute(route, { assets: assetSource(new Map([[sha256, bytes]])) })
    const outline = value as Outline
    const strokes = new Map<string, CentreStroke[]>()
    for (const region of outline.regions) {
      const letter = outline.letters[region.members[0].letter].text
      strokes.set(letter, [...(strokes.get(letter) ?? []), ...centreStrokes(regionPolygons(region, 0.01, outline.lattice))])
    }
    const wrong = Object.entries(WRITTEN).filter(([letter, counts]) => !counts.includes(strokes.get(letter)?.length ?? 0))
    expect(wrong.length).toBeLessThanOrEqual(0.05 * Object.keys(WRITTEN).length)
    for (const [letter, list] of strokes) {
      // dots come with the area they are
      list.forEach(({ points, closed }, i) => {
        const [[ax, ay], [bx, by]] = [points[0], points[points.length - 1]]
        // from the top down or from left to right
        if (!closed && points.length > 1) expect(ay > by || ax < bx, letter).toBe(true)
        const next = list[i + 1]?.points[0]
        // none is begun to the left of the one before it and above it
        if (next && !'ij'.includes(letter)) expect(next[0] < ax - 1e-6 && next[1] > ay + 1e-6, letter).toBe(false)
      })
    }
  })

  it('of a round dot are its middle', () => {
    const disc = rings(Array.from({ length: 60 }, (_, i): [number, number] => [5 * Math.cos((i * Math.PI) / 30), 3 + 5 * Math.sin((i * Math.PI) / 30)]))
    const [dot, ...others] = centreStrokes(disc)
    expect(others).toEqual([])
    expect(dot.dot).toBe(true)
    for (const [i, v] of [0, 3, 5].entries()) expect(dot.points[0][i]).toBeCloseTo(v, 1)
  })

  it.each(FULL ? SHIPPED_FACES.map(({ id }) => id) : ['fredoka', 'pacifico'])('of %s lie within their letter', async (face) => {
    for (const set of await letters('Rey', face))
      for (const { points } of centreStrokes(set))
        expect(points.filter(([x, y]) => winding(set.rings, x, y) <= 0 && nearest(set, x, y).distance > 0.3)).toEqual([])
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
