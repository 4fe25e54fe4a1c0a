import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { polygons } from '../../test/helpers'
import { checkMesh } from '../check/check'
import { loadManifold } from '../kernel/manifold'
import { divideRings, polygonArea, type PolygonSet } from '../outline/polygon'
import type { Division } from './even-caps'
import { extrudePolygons } from './extrude'
import { FACE } from './labels'
import { shippedProfile } from './profile'
import { labelAt, type Solid, triangleCount } from './solid'

beforeAll(async () => {
  await loadManifold()
})

/** Stars about the middle, and the same with a hole that keeps clear of the outline. */
const stars = fc.record({ radii: fc.array(fc.integer({ min: 12, max: 30 }), { minLength: 5, maxLength: 20 }), hole: fc.boolean() }).map(({ radii, hole }) => {
  const ring = (of: number[], turn: 1 | -1) =>
    of.map((r, i) => [r * Math.cos((turn * 2 * Math.PI * i) / of.length), r * Math.sin((turn * 2 * Math.PI * i) / of.length)] as [number, number])
  return polygons(ring(radii, 1), ...(hole ? [ring([4, 5, 4, 5, 4, 5], -1)] : []))
})

const divided = (set: PolygonSet, division?: Division) =>
  extrudePolygons(set, { depth: 6, front: shippedProfile('square', 0, 0), tolerance: 0.02, division }).solid

/** Corners of the triangles of the face, in the plane. */
function faceTriangles(solid: Solid): number[][] {
  const { positions: p, indices } = solid
  return Array.from({ length: triangleCount(solid) }, (_, t) => t)
    .filter((t) => labelAt(solid, t, 'group') === FACE)
    .map((t) => [0, 1, 2].flatMap((k) => [p[3 * indices[3 * t + k]], p[3 * indices[3 * t + k] + 1]]))
}
const sidesOf = ([ax, ay, bx, by, cx, cy]: number[]) => [Math.hypot(bx - ax, by - ay), Math.hypot(cx - bx, cy - by), Math.hypot(ax - cx, ay - cy)]
const areaOf = ([ax, ay, bx, by, cx, cy]: number[]) => ((bx - ax) * (cy - ay) - (cx - ax) * (by - ay)) / 2

describe('faces divided evenly', () => {
  it('stay the same faces: sound, of the same area, no triangle turned over', () => {
    fc.assert(
      fc.property(stars, fc.constantFrom('triangles' as const, 'squares' as const), fc.integer({ min: 10, max: 60 }), (set, pattern, tenths) => {
        const solid = divided(set, { pattern, edge: tenths / 10 })
        const report = checkMesh(solid)
        expect(report.findings).toEqual([])
        const faces = faceTriangles(solid)
        expect(Math.min(...faces.map(areaOf))).toBeGreaterThan(0)
        expect(faces.reduce((sum, t) => sum + areaOf(t), 0)).toBeCloseTo(polygonArea(set), 3)
        expect(report.volume).toBeCloseTo(6 * polygonArea(set), 2)
      }),
      { numRuns: 40 },
    )
  })

  it('have sides of about the length that was asked for, none much longer', () => {
    fc.assert(
      fc.property(stars, fc.integer({ min: 10, max: 40 }), (set, tenths) => {
        const edge = tenths / 10
        // as steps do it: the outline is divided before
        const sides = faceTriangles(divided(divideRings(set, edge), { pattern: 'triangles', edge })).flatMap(sidesOf)
        expect(Math.max(...sides)).toBeLessThan(2.5 * edge)
        const sorted = sides.toSorted((a, b) => a - b)
        const middle = sorted[sorted.length >> 1]
        expect(middle / edge).toBeGreaterThan(0.5)
        expect(middle / edge).toBeLessThan(1.5)
      }),
      { numRuns: 40 },
    )
  })

  it('have their points in rows and columns when they are divided into squares', () => {
    const square = polygons([
      [0, 0],
      [30, 0],
      [30, 30],
      [0, 30],
    ])
    const inner = faceTriangles(divided(square, { pattern: 'squares', edge: 3 }))
      .flatMap((t) => [t.slice(0, 2), t.slice(2, 4), t.slice(4, 6)])
      .filter(([x, y]) => x > 1 && x < 29 && y > 1 && y < 29)
    expect(inner.length).toBeGreaterThan(100)
    for (const [x, y] of inner) {
      expect(Math.abs(x / 3 - Math.round(x / 3))).toBeLessThan(0.001)
      expect(Math.abs(y / 3 - Math.round(y / 3))).toBeLessThan(0.001)
    }
  })

  it('get coarser rather than too many points', () => {
    const large = polygons([
      [0, 0],
      [900, 0],
      [900, 900],
      [0, 900],
    ])
    const count = faceTriangles(divided(large, { pattern: 'triangles', edge: 0.5 })).length
    // without the bound there would be seven million
    expect(count).toBeLessThan(120_000)
    expect(count).toBeGreaterThan(40_000)
  })
})
