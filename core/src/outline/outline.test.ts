import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { distanceToRings } from '../../test/helpers'
import { loadManifold } from '../kernel/manifold'
import { compose, translation } from './affine'
import { flattenPath } from './flatten'
import { latticeFor, snap } from './lattice'
import { type Path, PathBuilder, transformPath } from './path'
import { areSimple, cleanPolygons, doubleArea, pathPolygons, polygonArea, winding } from './polygon'

beforeAll(async () => {
  await loadManifold()
})

const coordinate = fc.double({ min: -50, max: 50, noNaN: true })
const point = fc.tuple(coordinate, coordinate)

function polygonPath(points: readonly (readonly [number, number])[]): Path {
  const path = new PathBuilder(...points[0])
  for (const p of points.slice(1)) path.lineTo(...p)
  return path.build(true)
}

function circle(cx: number, cy: number, r: number, clockwise = false): Path {
  const k = 0.5522847498 * r * (clockwise ? -1 : 1)
  const s = clockwise ? -1 : 1
  const path = new PathBuilder(cx + r, cy)
  path.cubicTo(cx + r, cy + k, cx + 0.5522847498 * r, cy + s * r, cx, cy + s * r)
  path.cubicTo(cx - 0.5522847498 * r, cy + s * r, cx - r, cy + k, cx - r, cy)
  path.cubicTo(cx - r, cy - k, cx - 0.5522847498 * r, cy - s * r, cx, cy - s * r)
  path.cubicTo(cx + 0.5522847498 * r, cy - s * r, cx + r, cy - k, cx + r, cy)
  return path.build(true)
}

describe('flattenPath', () => {
  it('keeps every point of a cubic within the tolerance of the chords', () => {
    fc.assert(
      fc.property(point, point, point, point, fc.double({ min: 0.005, max: 0.5, noNaN: true }), (a, b, c, d, tolerance) => {
        const path = new PathBuilder(...a)
        path.cubicTo(...b, ...c, ...d)
        const flat = flattenPath(path.build(false), { tolerance })
        if (flat.xy.length < 4) return
        for (let i = 1; i < 100; i++) {
          const t = i / 100
          const s = 1 - t
          const at = [0, 1].map((k) => s ** 3 * a[k] + 3 * s * s * t * b[k] + 3 * s * t * t * c[k] + t ** 3 * d[k])
          let best = Infinity
          for (let j = 0; j + 3 < flat.xy.length; j += 2) {
            const [x0, y0, x1, y1] = flat.xy.subarray(j, j + 4)
            const f = Math.max(0, Math.min(1, ((at[0] - x0) * (x1 - x0) + (at[1] - y0) * (y1 - y0)) / ((x1 - x0) ** 2 + (y1 - y0) ** 2 || 1)))
            best = Math.min(best, Math.hypot(at[0] - x0 - f * (x1 - x0), at[1] - y0 - f * (y1 - y0)))
          }
          expect(best).toBeLessThanOrEqual(tolerance * 1.001)
        }
      }),
      { numRuns: 120 },
    )
  })

  it("gives a circle's tangents exactly, equal on both sides of every point", () => {
    const flat = flattenPath(circle(3, 4, 10), { tolerance: 0.02 })
    for (let i = 0; i < flat.xy.length / 2; i++) {
      const [ax, ay, lx, ly] = flat.tangents.subarray(4 * i, 4 * i + 4)
      expect([ax, ay]).toEqual([lx, ly])
      const radial = [(flat.xy[2 * i] - 3) / 10, (flat.xy[2 * i + 1] - 4) / 10]
      expect(Math.abs(ax * radial[0] + ay * radial[1])).toBeLessThan(0.002)
    }
  })

  it('keeps the corners of a square as corners and a line straight where a curve joins it', () => {
    const square = flattenPath(
      polygonPath([
        [0, 0],
        [5, 0],
        [5, 5],
        [0, 5],
      ]),
      { tolerance: 0.02 },
    )
    for (let i = 0; i < 4; i++)
      expect(square.tangents[4 * i] * square.tangents[4 * i + 2] + square.tangents[4 * i + 1] * square.tangents[4 * i + 3]).toBeCloseTo(0, 9)
    const stadium = new PathBuilder(0, 0)
    stadium.lineTo(30, 0)
    stadium.cubicTo(33, 0.1, 35, 2, 35, 5)
    const flat = flattenPath(stadium.build(false), { tolerance: 0.05 })
    expect([...flat.tangents.subarray(4, 8)]).toEqual([1, 0, 1, 0])
  })

  it('refuses coordinates that are no numbers', () => {
    expect(() => new PathBuilder(0, 0).lineTo(Number.NaN, 1)).toThrow(RangeError)
  })
})

describe('clean polygons', () => {
  it('are simple, oriented and have the area that winding numbers give, whatever the scribble', () => {
    fc.assert(
      fc.property(fc.array(fc.array(point, { minLength: 3, maxLength: 9 }), { minLength: 1, maxLength: 3 }), (contours) => {
        const flats = contours.map((c) => flattenPath(polygonPath(c), { tolerance: 0.1, lattice: 2 ** -14 }))
        const set = cleanPolygons(flats, 2 ** -14)
        expect(areSimple(set.rings.map((r) => r.xy))).toBe(true)
        // sample: inside the clean set just where the scribble winds
        for (let i = 0; i < 60; i++) {
          const [x, y] = [((i * 37) % 101) - 50 + 0.1234, ((i * 61) % 97) - 48 + 0.2345]
          if (distanceToRings(flats, x, y) < 0.1) continue
          expect(winding(set.rings, x, y)).toBe(winding(flats, x, y) === 0 ? 0 : 1)
        }
      }),
      { numRuns: 150 },
    )
  })

  it('cuts a counter out and unites overlapping contours, exactly in area', () => {
    const ring = pathPolygons([circle(0, 0, 10), circle(0, 0, 4, true)], 0.002, 2 ** -14)
    expect(ring.rings.length).toBe(2)
    expect(polygonArea(ring)).toBeCloseTo(Math.PI * (100 - 16), 0)
    const bars = pathPolygons(
      [
        polygonPath([
          [0, 4],
          [10, 4],
          [10, 6],
          [0, 6],
        ]),
        polygonPath([
          [4, 0],
          [6, 0],
          [6, 10],
          [4, 10],
        ]),
      ],
      0.02,
      2 ** -14,
    )
    expect(bars.rings.length).toBe(1)
    expect(polygonArea(bars)).toBe(36)
  })

  it('draws corners that touch apart', () => {
    const bow = pathPolygons(
      [
        polygonPath([
          [0, 0],
          [5, 5],
          [0, 10],
        ]),
        polygonPath([
          [10, 0],
          [10, 10],
          [5, 5],
        ]),
      ],
      0.02,
      2 ** -14,
    )
    const keys = bow.rings.flatMap((r) => Array.from({ length: r.xy.length / 2 }, (_, i) => `${r.xy[2 * i]},${r.xy[2 * i + 1]}`))
    expect(new Set(keys).size).toBe(keys.length)
    expect(polygonArea(bow)).toBeCloseTo(50, 1)
  })

  it('does not depend on which way contours run', () => {
    const forward = polygonPath([
      [0, 0],
      [9, 1],
      [4, 7],
    ])
    const backward = polygonPath([
      [4, 7],
      [9, 1],
      [0, 0],
    ])
    expect(polygonArea(pathPolygons([forward], 0.02, 2 ** -14))).toBe(polygonArea(pathPolygons([backward], 0.02, 2 ** -14)))
    expect(doubleArea([0, 0, 1, 0, 0, 1])).toBe(1)
  })
})

describe('lattice', () => {
  it('is a power of two that a 32-bit float holds exactly up to the extent', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.1, max: 100_000, noNaN: true }), fc.double({ min: -1, max: 1, noNaN: true }), (extent, at) => {
        const step = latticeFor(extent)
        expect(Number.isInteger(Math.log2(step))).toBe(true)
        const value = snap(extent * at, step)
        expect(Math.fround(value)).toBe(value)
        expect(Math.abs(value - extent * at)).toBeLessThanOrEqual(step / 2)
      }),
    )
  })
})

describe('affine', () => {
  it('composes in the order stated', () => {
    const path = transformPath(
      polygonPath([
        [1, 0],
        [0, 1],
        [0, 0],
      ]),
      compose(translation(10, 0), [2, 0, 0, 2, 0, 0]),
    )
    expect([...path.coords]).toEqual([12, 0, 10, 2, 10, 0])
  })
})
