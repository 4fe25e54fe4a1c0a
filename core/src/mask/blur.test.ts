import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { ballBody } from '../../test/bodies'
import { blurred } from './blur'

/** A flat plate of squares cut in two, `n` a side, `step` mm each. */
function plate(n: number, step: number) {
  const positions: number[] = []
  const indices: number[] = []
  for (let j = 0; j <= n; j++) for (let i = 0; i <= n; i++) positions.push(i * step, j * step, 0)
  for (let j = 0; j < n; j++)
    for (let i = 0; i < n; i++) {
      const a = j * (n + 1) + i
      if ((i + j) % 2) indices.push(a, a + 1, a + n + 2, a, a + n + 2, a + n + 1)
      else indices.push(a, a + 1, a + n + 1, a + 1, a + n + 2, a + n + 1)
    }
  return { positions: Float64Array.from(positions), indices: Uint32Array.from(indices) }
}

describe('blurring over a surface', () => {
  const ball = ballBody(10, 5)
  const count = ball.positions.length / 3
  const weight = fc.double({ min: 0, max: 1, noNaN: true })

  it('never leaves what was between the least and the most, and leaves what is even as it is', () => {
    fc.assert(
      fc.property(fc.array(weight, { minLength: count, maxLength: count }), fc.double({ min: 0.1, max: 12, noNaN: true }), (list, reach) => {
        const values = Float32Array.from(list)
        const out = blurred(values, ball.positions, ball.indices, reach)
        expect(Math.min(...out)).toBeGreaterThanOrEqual(Math.min(...values) - 1e-6)
        expect(Math.max(...out)).toBeLessThanOrEqual(Math.max(...values) + 1e-6)
        // the given ones are as they were
        expect([...values]).toEqual([...Float32Array.from(list)])
      }),
      { numRuns: 25 },
    )
    const even = new Float32Array(count).fill(0.37)
    for (const v of blurred(even, ball.positions, ball.indices, 5)) expect(v).toBeCloseTo(0.37, 5)
  })

  it('gives back what it got where the reach is nothing or no number', () => {
    const values = Float32Array.from({ length: count }, (_, i) => i % 2)
    for (const reach of [0, -1, Number.NaN]) expect(blurred(values, ball.positions, ball.indices, reach)).toBe(values)
  })

  it('spreads a spot about as wide as asked: its spread grows with the reach, alike to all sides and on any division', () => {
    for (const [n, step] of [
      [40, 1],
      [80, 0.5],
    ]) {
      const { positions, indices } = plate(n, step)
      const middle = (n / 2) * (n + 1) + n / 2
      const spot = new Float32Array(positions.length / 3)
      spot[middle] = 1
      let last = 0
      for (const reach of [2, 3, 4]) {
        const out = blurred(spot, positions, indices, reach)
        let [sum, mx, my, xx, yy] = [0, 0, 0, 0, 0]
        for (let v = 0; v < out.length; v++) {
          const [x, y] = [positions[3 * v] - positions[3 * middle], positions[3 * v + 1] - positions[3 * middle + 1]]
          sum += out[v]
          mx += out[v] * x
          my += out[v] * y
          xx += out[v] * x * x
          yy += out[v] * y * y
        }
        expect(Math.hypot(mx, my) / sum).toBeLessThan(0.05)
        expect(xx / yy).toBeGreaterThan(0.95)
        expect(xx / yy).toBeLessThan(1.05)
        const spread = Math.sqrt((xx + yy) / sum)
        expect(spread).toBeGreaterThan(0.5 * reach)
        expect(spread).toBeLessThan(1.2 * reach)
        expect(spread).toBeGreaterThan(last)
        last = spread
      }
    }
  })

  it('does not pass from one body to another that lies beside it', () => {
    const one = plate(6, 1)
    const own = one.positions.length / 3
    const positions = Float64Array.from([...one.positions, ...one.positions.map((v, i) => (i % 3 === 2 ? 0.01 : v))])
    const indices = Uint32Array.from([...one.indices, ...one.indices.map((v) => v + own)])
    const values = new Float32Array(2 * own)
    values.fill(1, 0, own)
    const out = blurred(values, positions, indices, 3)
    for (let v = 0; v < own; v++) {
      expect(out[v]).toBeCloseTo(1, 5)
      expect(out[own + v]).toBe(0)
    }
  })

  it('leaves vertices that no triangle has as they are', () => {
    const { positions, indices } = plate(3, 1)
    const values = Float32Array.from({ length: positions.length / 3 + 1 }, () => 0.5)
    values[values.length - 1] = 0.9
    const out = blurred(values, Float64Array.from([...positions, 9, 9, 9]), indices, 2)
    expect(out[out.length - 1]).toBeCloseTo(0.9, 6)
  })
})
