import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { fractalNoise, noise } from './noise'

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true })
const place = fc.tuple(number(-300, 300), number(-300, 300), number(-300, 300))
const seed = fc.integer({ min: 0, max: 1e6 })

describe('noise', () => {
  it('stays within −1 and 1, is nought at whole places, and the same again for the same seed', () => {
    fc.assert(
      fc.property(seed, place, (s, [x, y, z]) => {
        const one = noise(s)
        expect(Math.abs(one(x, y, z))).toBeLessThanOrEqual(1)
        expect(one(Math.round(x), Math.round(y), Math.round(z))).toBeCloseTo(0, 12)
        expect(noise(s)(x, y, z)).toBe(one(x, y, z))
        // 256 on it begins again
        expect(one(x + 256, y - 256, z + 512)).toBeCloseTo(one(x, y, z), 6)
      }),
    )
  })

  it('is smooth: nowhere steeper than its gradients allow, across the borders of its cells as well', () => {
    fc.assert(
      fc.property(seed, place, fc.constantFrom(0, 1, 2), fc.boolean(), (s, at, axis, onBorder) => {
        const one = noise(s)
        const from = at.map((v, k) => (k === axis && onBorder ? Math.round(v) - 5e-5 : v))
        const to = from.map((v, k) => (k === axis ? v + 1e-4 : v))
        expect(Math.abs(one(to[0], to[1], to[2]) - one(from[0], from[1], from[2]))).toBeLessThan(5e-4)
      }),
    )
  })

  it('has no way up or down of its own, and differs from seed to seed', () => {
    const values = (s: number) => {
      const one = noise(s)
      return Array.from({ length: 4096 }, (_, i) => one(0.37 * i, 0.61 * (i % 61), 0.83 * (i % 17)))
    }
    const [a, b] = [values(1), values(2)]
    for (const list of [a, b]) {
      const mean = list.reduce((sum, v) => sum + v, 0) / list.length
      const spread = Math.sqrt(list.reduce((sum, v) => sum + v * v, 0) / list.length)
      expect(Math.abs(mean)).toBeLessThan(0.05)
      expect(spread).toBeGreaterThan(0.15)
      expect(spread).toBeLessThan(0.45)
    }
    const together = a.reduce((sum, v, i) => sum + v * b[i], 0)
    const alone = Math.sqrt(a.reduce((sum, v) => sum + v * v, 0) * b.reduce((sum, v) => sum + v * v, 0))
    expect(Math.abs(together / alone)).toBeLessThan(0.15)
  })
})

describe('noise of several sizes', () => {
  it('is plain noise with one, and bent more the more there are, within the same height', () => {
    fc.assert(
      fc.property(seed, place, (s, [x, y, z]) => {
        expect(fractalNoise(s, 1)(x, y, z)).toBeCloseTo(noise(s)(x, y, z), 12)
        for (const octaves of [2, 5]) expect(Math.abs(fractalNoise(s, octaves)(x, y, z))).toBeLessThanOrEqual(1)
      }),
    )
    const bending = (octaves: number) => {
      const one = fractalNoise(7, octaves)
      let sum = 0
      for (let i = 0; i < 2000; i++) {
        const at = (d: number) => one(0.31 * i + d, 0.7, 0.4)
        sum += Math.abs(at(0.01) - 2 * at(0) + at(-0.01))
      }
      return sum
    }
    const found = [1, 2, 3, 4].map(bending)
    for (let i = 1; i < 4; i++) expect(found[i]).toBeGreaterThan(found[i - 1])
  })
})
