import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { loadManifold } from '../kernel/manifold'
import { PathBuilder } from '../outline/path'
import { pathPolygons, type PolygonSet } from '../outline/polygon'
import { type Skeleton, straightSkeleton } from './skeleton'

beforeAll(async () => {
  await loadManifold()
})

type Points = (readonly [number, number])[]

function polygons(...contours: Points[]): PolygonSet {
  const paths = contours.map((points) => {
    const path = new PathBuilder(...points[0])
    for (const p of points.slice(1)) path.lineTo(...p)
    return path.build(true)
  })
  return pathPolygons(paths, 0.02, 2 ** -14)
}

const star = fc
  .array(fc.double({ min: 4, max: 30, noNaN: true }), { minLength: 3, maxLength: 30 })
  .map((radii) => radii.map((r, i): [number, number] => [r * Math.cos((2 * Math.PI * i) / radii.length), r * Math.sin((2 * Math.PI * i) / radii.length)]))

/** Largest difference between a node's time and its distance from the line of an edge whose face it bounds. */
function largestTimeError({ x, y, t, edges, arcFace, arcFrom, arcTo }: Skeleton): number {
  let worst = 0
  for (let k = 0; k < arcFace.length; k++) {
    const e = arcFace[k]
    for (const n of [arcFrom[k], arcTo[k]]) worst = Math.max(worst, Math.abs(edges.nx[e] * x[n] + edges.ny[e] * y[n] - edges.c[e] - t[n]))
  }
  return worst
}

/** How often each directed arc piece lacks its reverse in another face, the limit's own sides aside. */
function unpaired({ arcFace, arcFrom, arcTo, t }: Skeleton, limit: number): number {
  const count = new Map<string, number>()
  for (let k = 0; k < arcFace.length; k++) {
    if (t[arcFrom[k]] === limit && t[arcTo[k]] === limit) continue
    const [a, b] = [arcFrom[k], arcTo[k]]
    const key = a < b ? `${a}-${b}` : `${b}-${a}`
    count.set(key, (count.get(key) ?? 0) + (a < b ? 1 : -1))
  }
  return [...count.values()].filter((n) => n !== 0).length
}

describe('straightSkeleton', () => {
  it('puts every node where its time says: equally far from the lines of all its edges', () => {
    fc.assert(
      fc.property(star, (points) => {
        const skeleton = straightSkeleton(polygons(points), { limit: Infinity })
        if (skeleton.unresolved.length > 0) return
        expect(largestTimeError(skeleton)).toBeLessThan(1e-5)
      }),
      { numRuns: 200 },
    )
  })

  it('stores every arc in both of its faces', () => {
    fc.assert(
      fc.property(star, fc.double({ min: 0.5, max: 20, noNaN: true }), (points, limit) => {
        const skeleton = straightSkeleton(polygons(points), { limit })
        if (skeleton.unresolved.length > 0) return
        expect(unpaired(skeleton, limit)).toBe(0)
      }),
      { numRuns: 200 },
    )
  })

  it('settles nearly all shapes at the first try', () => {
    let settled = 0
    const shapes = fc.sample(star, { numRuns: 300, seed: 7 })
    for (const points of shapes) if (straightSkeleton(polygons(points), { limit: Infinity }).unresolved.length === 0) settled++
    expect(settled / shapes.length).toBeGreaterThan(0.98)
  })

  it('does not care where the shape lies, and scales with it', () => {
    fc.assert(
      fc.property(star, (points) => {
        const here = straightSkeleton(polygons(points), { limit: Infinity })
        const set = polygons(points)
        const moved = straightSkeleton({ ...set, rings: set.rings.map((r) => ({ ...r, xy: r.xy.map((v) => v + 5000) })) }, { limit: Infinity })
        const large = straightSkeleton({ ...set, rings: set.rings.map((r) => ({ ...r, xy: r.xy.map((v) => 64 * v) })) }, { limit: Infinity })
        if (here.unresolved.length + moved.unresolved.length + large.unresolved.length > 0) return
        const peak = (s: Skeleton) => Math.max(...s.t)
        expect(peak(moved)).toBeCloseTo(peak(here), 5)
        expect(peak(large) / 64).toBeCloseTo(peak(here), 6)
      }),
      { numRuns: 100 },
    )
  })

  it('stops at the limit with caps that are the inset outline', () => {
    const square: Points = [
      [0, 0],
      [20, 0],
      [20, 20],
      [0, 20],
    ]
    const hole: Points = [
      [8, 8],
      [8, 12],
      [12, 12],
      [12, 8],
    ]
    const { caps, x, y } = straightSkeleton(polygons(square, hole), { limit: 2 })
    expect(caps.length).toBe(2)
    const corners = caps.map((cap) => cap.nodes.map((n) => `${x[n].toFixed(6)},${y[n].toFixed(6)}`).sort())
    expect(corners).toContainEqual(['18.000000,18.000000', '18.000000,2.000000', '2.000000,18.000000', '2.000000,2.000000'])
    expect(corners).toContainEqual(['14.000000,14.000000', '14.000000,6.000000', '6.000000,14.000000', '6.000000,6.000000'])
  })

  it('goes up to its limit as it goes without one, where every corner looks at every edge', () => {
    const teeth = fc
      .tuple(fc.integer({ min: 20, max: 90 }), fc.infiniteStream(fc.double({ min: 9, max: 22, noNaN: true })), fc.double({ min: 0.05, max: 6, noNaN: true }))
      .map(([n, radii, limit]) => ({
        limit,
        points: Array.from({ length: n }, (_, i): [number, number] => {
          const r = radii.next().value as number
          return [r * Math.cos((2 * Math.PI * i) / n), r * Math.sin((2 * Math.PI * i) / n)]
        }),
      }))
    let compared = 0
    fc.assert(
      fc.property(teeth, ({ points, limit }) => {
        const set = polygons(points)
        const [part, whole] = [straightSkeleton(set, { limit }), straightSkeleton(set, { limit: Infinity })]
        if (part.unresolved.length > 0 || whole.unresolved.length > 0) return
        const nodes = ({ x, y, t }: Skeleton) => Array.from(x, (px, n) => [px, y[n], t[n]]).filter(([, , at]) => at > 0 && at < limit - 1e-5)
        const [some, all] = [nodes(part), nodes(whole)]
        const missing = (of: number[][], among: number[][]) => of.filter((n) => !among.some((m) => Math.hypot(n[0] - m[0], n[1] - m[1], n[2] - m[2]) < 1e-4))
        expect(missing(all, some)).toEqual([])
        expect(missing(some, all)).toEqual([])
        compared += all.length
      }),
      { numRuns: 150 },
    )
    expect(compared).toBeGreaterThan(1500)
  })

  it('gives sharp concave corners extra edges, so that no mitre runs away', () => {
    // a slit 0.1 mm wide cut into a block: the concave turn at its ends is nearly 180°
    const slit = polygons([
      [0, 0],
      [20, 0],
      [20, 20],
      [10.05, 20],
      [10, 10],
      [9.95, 20],
      [0, 20],
    ])
    const { caps, y, unresolved } = straightSkeleton(slit, { limit: 2 })
    expect(unresolved).toEqual([])
    // the tip of the slit is at y = 10; with a plain mitre it would have run some 400 mm down
    expect(Math.min(...caps.flatMap((cap) => cap.nodes.map((n) => y[n])))).toBeGreaterThanOrEqual(1.999)
  })
})
