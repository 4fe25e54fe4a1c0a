import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { FULL } from '../../test/helpers'
import { flattenPath } from './flatten'
import { type Path, PathBuilder, pathArea, reversePath, segmentsOf } from './path'
import { bent, roundCorners } from './round'

function polygon(points: readonly (readonly [number, number])[]): Path {
  const builder = new PathBuilder(...points[0])
  for (const p of points.slice(1)) builder.lineTo(...p)
  return builder.build(true)
}

const rectangle = (w: number, h: number) =>
  polygon([
    [0, 0],
    [w, 0],
    [w, h],
    [0, h],
  ])

/** Points along a path, close together. */
function along(path: Path): [number, number][] {
  return segmentsOf(path).flatMap(({ cubic: c }) =>
    Array.from({ length: 40 }, (_, i): [number, number] => {
      const t = i / 40
      const s = 1 - t
      const at = (k: number) => s ** 3 * c[k] + 3 * s * s * t * c[k + 2] + 3 * s * t * t * c[k + 4] + t ** 3 * c[k + 6]
      return [at(0), at(1)]
    }),
  )
}

/** The sharpest turn between one segment's end and the next one's beginning, degrees. */
function sharpest(path: Path): number {
  const segments = segmentsOf(path)
  const way = (c: Float64Array, end: boolean) => {
    const pairs = end ? [6, 4, 2, 0] : [0, 2, 4, 6]
    for (const k of pairs.slice(1)) {
      const [x, y] = end ? [c[6] - c[k], c[7] - c[k + 1]] : [c[k] - c[0], c[k + 1] - c[1]]
      if (Math.hypot(x, y) > 1e-9) return [x / Math.hypot(x, y), y / Math.hypot(x, y)]
    }
    return [1, 0]
  }
  return Math.max(
    ...segments.map(({ cubic }, i) => {
      const [a, b] = [way(cubic, true), way(segments[(i + 1) % segments.length].cubic, false)]
      return (Math.acos(Math.max(-1, Math.min(1, a[0] * b[0] + a[1] * b[1]))) * 180) / Math.PI
    }),
  )
}

/** Areas alike, but for what an arc by cubics is off its circle (2.7e-4 of its radius at most). */
const alike = (area: number, expected: number, r: number) => expect(Math.abs(area - expected)).toBeLessThan(2e-3 * r * r + 1e-9)

const radius = fc.double({ min: 0.1, max: 4, noNaN: true })

describe('rounding corners', () => {
  it('takes (4 − π) r² from a rectangle, and its arcs are circles of that radius', () => {
    fc.assert(
      fc.property(radius, fc.double({ min: 9, max: 40, noNaN: true }), fc.double({ min: 9, max: 40, noNaN: true }), (r, w, h) => {
        const path = roundCorners(rectangle(w, h), { outer: r, inner: 0, from: 12, side: 1 })
        alike(pathArea(path), w * h - (4 - Math.PI) * r * r, r)
        for (const [x, y] of along(path)) {
          const [cx, cy] = [Math.min(Math.max(x, r), w - r), Math.min(Math.max(y, r), h - r)]
          const off = Math.hypot(x - cx, y - cy)
          if (x < r - 1e-6 || x > w - r + 1e-6) if (y < r - 1e-6 || y > h - r + 1e-6) expect(Math.abs(off / r - 1)).toBeLessThan(5e-4)
          expect(off).toBeLessThan(r * (1 + 5e-4))
        }
        expect(sharpest(path)).toBeLessThan(0.1)
      }),
      { numRuns: 60 },
    )
  })

  it('makes corners as large as there is room for, never larger: neighbours do not meet', () => {
    fc.assert(
      fc.property(fc.double({ min: 5, max: 500, noNaN: true }), fc.double({ min: 1, max: 6, noNaN: true }), (r, h) => {
        const path = roundCorners(rectangle(20, h), { outer: r, inner: 0, from: 12, side: 1 })
        // what corners of 0.48 of the shorter side leave
        const most = Math.min(r, 0.48 * h)
        alike(pathArea(path), 20 * h - (4 - Math.PI) * most * most, most)
        for (const [x, y] of along(path)) {
          expect(x).toBeGreaterThan(-1e-9)
          expect(x).toBeLessThan(20 + 1e-9)
          expect(y).toBeGreaterThan(-1e-9)
          expect(y).toBeLessThan(h + 1e-9)
        }
      }),
      { numRuns: 40 },
    )
  })

  it('tells corners that stick out from those that go in, whichever way the path runs', () => {
    const bracket = polygon([
      [0, 0],
      [20, 0],
      [20, 6],
      [6, 6],
      [6, 20],
      [0, 20],
    ])
    const whole = 20 * 6 + 14 * 6
    const part = (4 - Math.PI) / 4
    for (const r of [0.5, 1.5, 2.5]) {
      const [outer, inner] = [
        { outer: r, inner: 0, from: 12 },
        { outer: 0, inner: r, from: 12 },
      ]
      // five corners stick out and lose, one goes in and is filled
      alike(pathArea(roundCorners(bracket, { ...outer, side: 1 })), whole - 5 * part * r * r, r)
      alike(pathArea(roundCorners(bracket, { ...inner, side: 1 })), whole + part * r * r, r)
      alike(pathArea(roundCorners(reversePath(bracket), { ...outer, side: -1 })), -(whole - 5 * part * r * r), r)
      alike(pathArea(bent(bracket, r)), whole - 4 * part * r * r, r)
      alike(pathArea(bent(reversePath(bracket), r)), -(whole - 4 * part * r * r), r)
    }
  })

  it('stays within any polygon without corners that go in, and is smooth all round', () => {
    const turns = fc.uniqueArray(fc.integer({ min: 0, max: 35 }), { minLength: 3, maxLength: 10 })
    fc.assert(
      fc.property(turns, radius, (list, r) => {
        const points = list.sort((a, b) => a - b).map((n): [number, number] => [20 * Math.cos((n * Math.PI) / 18), 20 * Math.sin((n * Math.PI) / 18)])
        const path = roundCorners(polygon(points), { outer: r, inner: 0, from: 1, side: 1 })
        expect(pathArea(path)).toBeLessThan(pathArea(polygon(points)) + 1e-9)
        for (const [x, y] of along(path))
          points.forEach(([ax, ay], i) => {
            const [bx, by] = points[(i + 1) % points.length]
            // to the left of every side; an arc by cubics is off its circle by less than 5e-4 of its radius
            expect((bx - ax) * (y - ay) - (by - ay) * (x - ax)).toBeGreaterThan(-1e-3 * Math.hypot(bx - ax, by - ay))
          })
        expect(sharpest(path)).toBeLessThan(0.1)
      }),
      { numRuns: FULL ? 60 : 30 },
    )
  })

  it('leaves what is no corner: gentle turns, radius 0, open paths, and curves between corners', () => {
    const octagon = polygon(Array.from({ length: 8 }, (_, i): [number, number] => [10 * Math.cos((i * Math.PI) / 4), 10 * Math.sin((i * Math.PI) / 4)]))
    expect(roundCorners(octagon, { outer: 2, inner: 2, from: 60, side: 1 })).toBe(octagon)
    expect(bent(octagon, 0)).toBe(octagon)
    const open = new PathBuilder(0, 0)
    open.lineTo(10, 0)
    open.lineTo(10, 10)
    const way = open.build(false)
    expect(bent(way, 3)).toBe(way)
    // a half disc: its bow stays on the circle where no corner took of it
    const bow = new PathBuilder(-10, 0)
    bow.lineTo(10, 0)
    const k = (4 / 3) * Math.tan(Math.PI / 8)
    bow.cubicTo(10, 10 * k, 10 * k, 10, 0, 10)
    bow.cubicTo(-10 * k, 10, -10, 10 * k, -10, 0)
    const half = roundCorners(bow.build(true), { outer: 1, inner: 0, from: 12, side: 1 })
    expect(sharpest(half)).toBeLessThan(0.1)
    const high = along(half).filter(([, y]) => y > 3)
    expect(high.length).toBeGreaterThan(30)
    for (const [x, y] of high) expect(Math.abs(Math.hypot(x, y) - 10)).toBeLessThan(0.01)
  })

  it('blunts a side that turns right back instead of breaking down', () => {
    const spike = polygon([
      [0, 0],
      [10, 0],
      [0, 0.001],
    ])
    const path = roundCorners(spike, { outer: 1, inner: 1, from: 12, side: 1 })
    const { xy } = flattenPath(path, { tolerance: 0.01, lattice: 2 ** -14 })
    for (const v of xy) expect(Number.isFinite(v)).toBe(true)
    expect(Math.max(...along(path).map(([x]) => x))).toBeLessThan(10.001)
  })
})
