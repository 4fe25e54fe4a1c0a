import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { ArcLength } from './arc-length'
import { PathBuilder, reversePath } from './path'
import { simplifyPoints, smoothPath } from './spline'

const circle = (r: number) => {
  const k = (4 / 3) * Math.tan(Math.PI / 16)
  const path = new PathBuilder(r, 0)
  for (let i = 0; i < 8; i++) {
    const [a, b] = [(i * Math.PI) / 4, ((i + 1) * Math.PI) / 4]
    const [x0, y0, x1, y1] = [r * Math.cos(a), r * Math.sin(a), r * Math.cos(b), r * Math.sin(b)]
    path.cubicTo(x0 - k * y0, y0 + k * x0, x1 + k * y1, y1 - k * x1, x1, y1)
  }
  return path.build(true)
}

describe('ArcLength', () => {
  it('measures a circle and finds places on it', () => {
    const measured = new ArcLength(circle(50))
    expect(measured.length).toBeCloseTo(100 * Math.PI, 2)
    for (const share of [0, 0.1, 0.37, 0.5, 0.99]) {
      const { x, y, tx, ty } = measured.at(share * measured.length)
      const angle = 2 * Math.PI * share
      expect(Math.hypot(x - 50 * Math.cos(angle), y - 50 * Math.sin(angle))).toBeLessThan(0.002)
      expect(tx).toBeCloseTo(-Math.sin(angle), 4)
      expect(ty).toBeCloseTo(Math.cos(angle), 4)
    }
    // round and round
    expect(measured.at(2.25 * measured.length).y).toBeCloseTo(50, 3)
    expect(measured.at(-0.25 * measured.length).y).toBeCloseTo(-50, 3)
  })

  it('goes on straight beyond the ends of an open path', () => {
    const path = new PathBuilder(0, 0)
    path.lineTo(10, 0)
    const measured = new ArcLength(path.build(false))
    expect(measured.at(15)).toEqual({ x: expect.closeTo(15, 9), y: 0, tx: 1, ty: 0 })
    expect(measured.at(-5)).toEqual({ x: expect.closeTo(-5, 9), y: 0, tx: 1, ty: 0 })
  })

  it('moves evenly: equal lengths are equally far apart, from either end', () => {
    const coordinate = fc.double({ min: -100, max: 100, noNaN: true })
    fc.assert(
      fc.property(fc.array(fc.tuple(coordinate, coordinate), { minLength: 3, maxLength: 6 }), fc.double({ min: 0, max: 1, noNaN: true }), (points, share) => {
        fc.pre(points.every((p, i) => i === 0 || Math.hypot(p[0] - points[i - 1][0], p[1] - points[i - 1][1]) > 5))
        const path = smoothPath(points, false)
        const [there, back] = [new ArcLength(path), new ArcLength(reversePath(path))]
        expect(back.length).toBeCloseTo(there.length, 6)
        const [a, b] = [there.at(share * there.length), back.at((1 - share) * there.length)]
        expect(Math.hypot(a.x - b.x, a.y - b.y)).toBeLessThan(0.005)
        // a short step is as long as it says, up to the bend of the curve
        const step = Math.min(0.01, there.length / 100)
        const next = there.at(Math.min(there.length, share * there.length + step))
        const expected = Math.min(step, there.length - share * there.length)
        expect(Math.hypot(next.x - a.x, next.y - a.y)).toBeLessThanOrEqual(expected + 1e-6)
      }),
      { numRuns: 200 },
    )
  })
})

describe('smoothPath', () => {
  it('passes through its points, closed or open, and drops those that coincide', () => {
    const points: [number, number][] = [[0, 0], [0, 0], [20, 10], [40, 0], [20, -10]] // biome-ignore format: one line
    const open = smoothPath(points, false)
    expect(open.verbs.length).toBe(3)
    expect([...open.coords.slice(6, 8)]).toEqual([20, 10])
    const closed = smoothPath([...points, [0, 0]], true)
    expect(closed.verbs.length).toBe(4)
    expect([...closed.coords.slice(-2)]).toEqual([0, 0])
    expect(() => smoothPath([[1, 1], [1, 1]], false)).toThrow(RangeError) // biome-ignore format: one line
    expect(() => smoothPath([[1, 1], [Number.NaN, 1]], false)).toThrow(RangeError) // biome-ignore format: one line
  })
})

describe('simplifyPoints', () => {
  it('leaves out nothing further than the tolerance', () => {
    const coordinate = fc.double({ min: 0, max: 100, noNaN: true })
    fc.assert(
      fc.property(
        fc.array(fc.tuple(coordinate, coordinate), { minLength: 2, maxLength: 60 }),
        fc.double({ min: 0.1, max: 30, noNaN: true }),
        (points, tolerance) => {
          const kept = simplifyPoints(points, tolerance)
          expect([kept[0], kept.at(-1)]).toEqual([points[0], points.at(-1)])
          let k = 0
          for (const p of points) {
            if (p === kept[k + 1]) k++
            if (k + 1 >= kept.length) break
            const [[ax, ay], [bx, by]] = [kept[k], kept[k + 1]]
            const f = Math.max(0, Math.min(1, ((p[0] - ax) * (bx - ax) + (p[1] - ay) * (by - ay)) / ((bx - ax) ** 2 + (by - ay) ** 2 || 1)))
            expect(Math.hypot(p[0] - ax - f * (bx - ax), p[1] - ay - f * (by - ay))).toBeLessThanOrEqual(tolerance + 1e-9)
          }
        },
      ),
      { numRuns: 200 },
    )
  })
})
