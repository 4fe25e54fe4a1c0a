import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { checkMesh } from '../check/check'
import { volumeOf } from './volume'
import { roundedBox } from './revolve'
import { labelOf, type Solid, triangleCount } from './solid'
import { splitAtLevels } from './split-at-levels'
import { splitSides } from './split-sides'
import { uvsOf } from './shading'

const body = roundedBox(12, 9, 6, 2, 4, 2 ** -14)
const given = { ...body, attributes: { uv: uvsOf(body) } }

const hundredths = (most: number) => fc.integer({ min: -100 * most, max: 100 * most }).map((n) => n / 100)

/** A share of the way at which a value that is even along a side is at a level. */
const evenly = (values: Float64Array) => (a: number, b: number, level: number) => (level - values[a / 3]) / (values[b / 3] - values[a / 3])

/** The most that a texture coordinate is off what the triangle it lies in has at its place. */
function worstUv(made: Solid, from: Uint32Array): number {
  const [before, after] = [uvsOf(given), uvsOf(made)]
  let most = 0
  for (let i = 0; i < made.indices.length; i++) {
    const t = from[Math.floor(i / 3)]
    const [a, b, c] = [0, 1, 2].map((k) => [0, 1, 2].map((d) => given.positions[3 * given.indices[3 * t + k] + d]))
    const at = [0, 1, 2].map((d) => made.positions[3 * made.indices[i] + d])
    const [u, v, w] = [b, c, at].map((one) => one.map((value, d) => value - a[d]))
    const dot = (x: number[], y: number[]) => x[0] * y[0] + x[1] * y[1] + x[2] * y[2]
    const [uu, uv, vv, uw, vw] = [dot(u, u), dot(u, v), dot(v, v), dot(u, w), dot(v, w)]
    const [f, g] = [(vv * uw - uv * vw) / (uu * vv - uv * uv), (uu * vw - uv * uw) / (uu * vv - uv * uv)]
    for (let k = 0; k < 2; k++)
      most = Math.max(most, Math.abs((1 - f - g) * before[6 * t + k] + f * before[6 * t + 2 + k] + g * before[6 * t + 4 + k] - after[2 * i + k]))
  }
  return most
}

describe('splitting at levels', () => {
  it('makes sides of every level, and leaves the surface where it is', () => {
    fc.assert(
      fc.property(fc.tuple(hundredths(1), hundredths(1), hundredths(1)), fc.array(hundredths(9), { minLength: 1, maxLength: 12 }), ([nx, ny, nz], list) => {
        const { positions: p } = given
        const values = Float64Array.from({ length: p.length / 3 }, (_, v) => nx * p[3 * v] + ny * p[3 * v + 1] + nz * p[3 * v + 2])
        const levels = [...new Set(list)].sort((a, b) => a - b)
        const { solid, from, values: made } = splitAtLevels(given, { acts: () => true, values, levels, meets: evenly(values) })
        // a level runs through no triangle
        for (let t = 0; t < triangleCount(solid); t++) {
          const corners = [0, 1, 2].map((k) => made[solid.indices[3 * t + k]])
          const [low, high] = [Math.min(...corners), Math.max(...corners)]
          expect(levels.some((level) => level > low && level < high)).toBe(false)
        }
        expect(
          checkMesh(solid)
            .findings.map(({ code }) => code)
            .filter((code) => code === 'open' || code === 'overused'),
        ).toEqual([])
        expect(Math.abs(volumeOf(solid) - volumeOf(given))).toBeLessThan(1e-6)
        expect([...labelOf(solid, 'group')]).toEqual([...from].map((t) => labelOf(given, 'group')[t]))
        expect(worstUv(solid, from)).toBeLessThan(1e-3)
      }),
      { numRuns: 60 },
    )
  })

  it('leaves what does not act, but for sides that it shares', () => {
    const { positions: p } = given
    const values = Float64Array.from({ length: p.length / 3 }, (_, v) => p[3 * v])
    const front = (t: number) => [0, 1, 2].every((k) => p[3 * given.indices[3 * t + k] + 2] > 0)
    const { solid, from } = splitAtLevels(given, { acts: front, values, levels: [-2.5, 0.3, 1.7], meets: evenly(values) })
    expect(volumeOf(solid)).toBeCloseTo(volumeOf(given), 6)
    const parts = new Map<number, number>()
    for (const t of from) parts.set(t, (parts.get(t) ?? 0) + 1)
    expect([...parts].some(([t, count]) => front(t) && count > 1)).toBe(true)
    const shares = (t: number) => [0, 1, 2].some((k) => p[3 * given.indices[3 * t + k] + 2] > 0)
    expect([...parts].every(([t, count]) => count === 1 || shares(t))).toBe(true)
  })
})

describe('splitting sides where something over them has its kinks', () => {
  it('makes a ridge a row of sides, and a value even between them', () => {
    fc.assert(
      fc.property(hundredths(1), hundredths(3), (slant, off) => {
        const value = (x: number, y: number) => Math.abs(x + slant * y - off)
        const ridge = (ax: number, ay: number, bx: number, by: number) => {
          const [u, v] = [ax + slant * ay - off, bx + slant * by - off]
          return u < 0 === v < 0 || Math.abs(u) < 1e-6 || Math.abs(v) < 1e-6 ? 0 : u / (u - v)
        }
        const made = splitSides(given, {
          acts: () => true,
          at: (p, a, b) => ridge(p[a], p[a + 1], p[b], p[b + 1]),
          inside: () => false,
          most: 100_000,
          clear: 0,
        })
        if (!made) throw new Error('too many')
        const { positions: p, indices } = made.solid
        for (let t = 0; t < indices.length; t += 3) {
          const [a, b, c] = [3 * indices[t], 3 * indices[t + 1], 3 * indices[t + 2]]
          const middle = value((p[a] + p[b] + p[c]) / 3, (p[a + 1] + p[b + 1] + p[c + 1]) / 3)
          expect(Math.abs(middle - (value(p[a], p[a + 1]) + value(p[b], p[b + 1]) + value(p[c], p[c + 1])) / 3)).toBeLessThan(1e-5)
        }
        expect(volumeOf(made.solid)).toBeCloseTo(volumeOf(given), 6)
        expect([...labelOf(made.solid, 'group')]).toEqual([...made.from].map((t) => labelOf(given, 'group')[t]))
      }),
      { numRuns: 60 },
    )
  })

  it('makes no more triangles than it may', () => {
    const often = { acts: () => true, at: () => 0.5, inside: () => false, clear: 0 }
    expect(splitSides(given, { ...often, most: 5000 })).toBeUndefined()
  })

  it('does not part a side next to another one', () => {
    const near = (clear: number) => {
      let asked = 0
      const made = splitSides(given, { acts: (t) => t === 0, at: () => (asked++ === 0 ? 1e-3 : 0), inside: () => false, most: 1000, clear })
      return made && triangleCount(made.solid)
    }
    expect(near(0)).toBe(triangleCount(given) + 2)
    expect(near(0.05)).toBe(triangleCount(given))
  })

  it('parts a triangle that is uneven only inside', () => {
    let asked = 0
    const made = splitSides(given, { acts: (t) => t === 0, at: () => 0, inside: () => asked++ === 0, most: 1000, clear: 0 })
    expect(made && triangleCount(made.solid)).toBe(triangleCount(given) + 2)
  })
})
