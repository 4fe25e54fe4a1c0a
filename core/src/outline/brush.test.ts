import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { FULL } from '../../test/helpers'
import { loadManifold } from '../kernel/manifold'
import { brushOutlines, fitStroke } from './brush'
import { cubicAt } from './cubic'
import { fitPath } from './fit'
import { flattenPath } from './flatten'
import { sideCount, sideOf, toPath } from './nodes'
import { pathArea } from './path'

beforeAll(async () => {
  await loadManifold()
})

/** A hand's wobbling line: a smooth curve through a few random points, sampled as a device does. */
const aScribble = fc
  .tuple(
    fc.array(fc.tuple(fc.double({ min: 0, max: 60, noNaN: true }), fc.double({ min: 0, max: 40, noNaN: true })), { minLength: 2, maxLength: 5 }),
    fc.integer({ min: 10, max: 60 }),
  )
  .map(([knots, samples]) =>
    knots.slice(1).flatMap(([x, y], k) =>
      Array.from({ length: samples }, (_, i) => {
        const t = i / samples
        const ease = t * t * (3 - 2 * t)
        return { x: knots[k][0] + (x - knots[k][0]) * t, y: knots[k][1] + (y - knots[k][1]) * ease, pressure: 0.3 + 0.7 * t }
      }),
    ),
  )

const distanceTo = (xy: Float64Array, closed: boolean, x: number, y: number) => {
  let least = Infinity
  const n = xy.length / 2
  for (let k = 0; k < n - (closed ? 0 : 1); k++) {
    const [ax, ay, bx, by] = [xy[2 * k], xy[2 * k + 1], xy[(2 * k + 2) % xy.length], xy[(2 * k + 3) % xy.length]]
    const square = (bx - ax) ** 2 + (by - ay) ** 2
    const f = square === 0 ? 0 : Math.max(0, Math.min(1, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / square))
    least = Math.min(least, Math.hypot(x - ax - f * (bx - ax), y - ay - f * (by - ay)))
  }
  return least
}

describe('the pencil', () => {
  it('is never further from what the hand drew than the tolerance, nor the hand from it', () => {
    fc.assert(
      fc.property(aScribble, fc.constantFrom(0.05, 0.2, 1), (points, tolerance) => {
        const drawn = fitStroke(points, tolerance, false)
        fc.pre(drawn !== undefined && drawn.nodes.length > 1)
        if (!drawn) return
        const fitted = flattenPath(toPath(drawn), { tolerance: tolerance / 200, maxTurn: 3 }).xy
        const hand = Float64Array.from(points.flatMap((p) => [p.x, p.y]))
        for (let i = 0; i < points.length; i++) expect(distanceTo(fitted, false, points[i].x, points[i].y)).toBeLessThan(tolerance * 1.01)
        for (let i = 0; i < sideCount(drawn); i++)
          for (let k = 0; k <= 40; k++) {
            const [x, y] = cubicAt(sideOf(drawn, i).cubic, k / 40)
            expect(distanceTo(hand, false, x, y)).toBeLessThan(tolerance * 1.6 + 0.02)
          }
      }),
      { numRuns: 60 },
    )
  })

  it('keeps the pressure with the places it was given at', () => {
    const points = Array.from({ length: 60 }, (_, i) => ({ x: i, y: 8 * Math.sin(i / 9), pressure: i / 59 }))
    const drawn = fitStroke(points, 0.1, false)
    expect(drawn?.nodes.length).toBeGreaterThan(2)
    for (const node of drawn?.nodes ?? []) expect(node.pressure).toBeCloseTo(node.x / 59, 1)
  })

  it('becomes an area as wide as the pressure asks', () => {
    const line = {
      closed: false,
      nodes: [
        { x: 0, y: 0, pressure: 1 },
        { x: 40, y: 0, pressure: 0.5 },
      ],
    }
    const [outline, ...more] = brushOutlines(line, 6)
    expect(more).toEqual([])
    // a tapered bar with round ends: the hull of discs of 3 and 1.5 mm, 40 mm apart
    const a = Math.asin((3 - 1.5) / 40)
    const expected = (3 + 1.5) * 40 * Math.cos(a) + (Math.PI / 2 + a) * 9 + (Math.PI / 2 - a) * 2.25
    expect(Math.abs(pathArea(outline) - expected) / expected).toBeLessThan(0.003)
  })
})

describe('fitPath with the fewest nodes', () => {
  /** Whether one cubic, its four handle numbers free, keeps within the tolerance of all points between two indices: least squares with reparametrisation. */
  function oneCubicFits(p: readonly (readonly [number, number])[], from: number, to: number, tolerance: number): boolean {
    const n = to - from
    if (n < 2) return true
    const [ax, ay, bx, by] = [...p[from], ...p[to]]
    let u = [0]
    for (let i = from + 1; i <= to; i++) u.push(u[u.length - 1] + Math.hypot(p[i][0] - p[i - 1][0], p[i][1] - p[i - 1][1]))
    u = u.map((v) => v / (u[u.length - 1] || 1))
    for (let round = 0; round < 12; round++) {
      let [m00, m01, m11] = [0, 0, 0]
      const r = [0, 0, 0, 0]
      for (let i = 0; i <= n; i++) {
        const [t, s] = [u[i], 1 - u[i]]
        const [b0, b1, b2, b3] = [s ** 3, 3 * s * s * t, 3 * s * t * t, t ** 3]
        m00 += b1 * b1
        m01 += b1 * b2
        m11 += b2 * b2
        const [dx, dy] = [p[from + i][0] - b0 * ax - b3 * bx, p[from + i][1] - b0 * ay - b3 * by]
        r[0] += b1 * dx
        r[1] += b1 * dy
        r[2] += b2 * dx
        r[3] += b2 * dy
      }
      const d = m00 * m11 - m01 * m01
      if (Math.abs(d) < 1e-15) return false
      const c = [ax, ay, (r[0] * m11 - r[2] * m01) / d, (r[1] * m11 - r[3] * m01) / d, (r[2] * m00 - r[0] * m01) / d, (r[3] * m00 - r[1] * m01) / d, bx, by]
      let worst = 0
      for (let i = 0; i <= n; i++) {
        // the nearest of many places on the curve
        let least = Infinity
        for (let k = 0; k <= 100; k++) {
          const [x, y] = cubicAt(c, k / 100)
          const distance = Math.hypot(x - p[from + i][0], y - p[from + i][1])
          if (distance < least) {
            least = distance
            u[i] = k / 100
          }
        }
        worst = Math.max(worst, least)
      }
      if (worst <= tolerance) return true
    }
    return false
  }

  it('needs at most one and a half times the curves that an exhaustive search needs at best', () => {
    const curves: [string, (t: number) => [number, number]][] = [
      ['a wave', (t) => [60 * t, 8 * Math.sin(9 * t)]],
      ['a spiral', (t) => [(4 + 18 * t) * Math.cos(8 * t), (4 + 18 * t) * Math.sin(8 * t)]],
      ['an S', (t) => [20 * Math.sin(3.6 * t), 40 * t + 6 * Math.cos(5 * t)]],
      ['a loop', (t) => [40 * t + 12 * Math.sin(6 * t), 14 * Math.cos(6.3 * t)]],
    ]
    for (const [i, [name, at]] of curves.entries()) {
      for (const tolerance of FULL ? [0.05, 0.3] : [[0.05, 0.3][i % 2]]) {
        const p = Array.from({ length: 41 }, (_, i) => at(i / 40))
        // the least number of curves over all ways to part the points, by dynamic programming
        const least = [0, ...Array.from({ length: 40 }, () => Infinity)]
        for (let to = 1; to <= 40; to++)
          for (let from = to - 1; from >= 0; from--) if (least[from] + 1 < least[to] && oneCubicFits(p, from, to, tolerance)) least[to] = least[from] + 1
        // as a device samples it; the search works on every tenth point, which can only need fewer
        const hand = Array.from({ length: 401 }, (_, i) => at(i / 400))
        const ours = fitPath(hand.flat(), false, { tolerance, corner: 60, fewest: true }).verbs.length
        expect(ours + 1, `${name} within ${tolerance}`).toBeLessThanOrEqual(1.5 * (least[40] + 1))
      }
    }
  }, 240_000)
})
