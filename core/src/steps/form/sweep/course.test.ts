import fc from 'fast-check'
import { expect, it } from 'vitest'
import { throughPoints } from '../../../outline/through-points'

const points = fc
  .uniqueArray(fc.tuple(fc.integer({ min: 0, max: 1000 }), fc.integer({ min: -500, max: 500 })), { minLength: 2, maxLength: 12, selector: ([t]) => t })
  .map((list) => list.sort((a, b) => a[0] - b[0]).map(([t, v]): [number, number] => [t / 1000, v]))

it('goes through its points, never beyond two neighbours, and has no jumps', () => {
  fc.assert(
    fc.property(points, (list) => {
      const curve = throughPoints(list, 0)
      for (const [t, v] of list) expect(curve(t)).toBeCloseTo(v, 9)
      expect(curve(-1)).toBe(list[0][1])
      expect(curve(2)).toBe(list[list.length - 1][1])
      for (let i = 0; i + 1 < list.length; i++) {
        const [[a, v], [b, w]] = [list[i], list[i + 1]]
        let before = v
        for (let k = 1; k <= 20; k++) {
          const now = curve(a + ((b - a) * k) / 20)
          expect(now).toBeGreaterThanOrEqual(Math.min(v, w) - 1e-9)
          expect(now).toBeLessThanOrEqual(Math.max(v, w) + 1e-9)
          // between two points it only rises or only falls
          expect((now - before) * Math.sign(w - v)).toBeGreaterThanOrEqual(-1e-9)
          before = now
        }
      }
    }),
  )
})

it('is what is there otherwise without points, and level with one', () => {
  expect(throughPoints([], 100)(0.4)).toBe(100)
  expect(throughPoints([[0.7, 3]], 100)(0.1)).toBe(3)
})
