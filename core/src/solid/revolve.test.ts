import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { checkMesh } from '../check/check'
import { normalsOf } from './shading'
import type { Solid } from './solid'
import { roundedBox, sidesFor, turned, turnedBar, turnedRing } from './revolve'

const LATTICE = 2 ** -14

/** Area of a regular polygon about a circle of radius 1: what a turned circle is made of. */
const polygon = (sides: number) => (sides / 2) * Math.sin((2 * Math.PI) / sides)
/** Volume of the frustum between two radii over a height, for a base of that area at radius 1. */
const frustum = (base: number, r0: number, r1: number, height: number) => (base * height * (r0 * r0 + r0 * r1 + r1 * r1)) / 3

function expectSound(solid: Solid) {
  const report = checkMesh(solid)
  expect(report.findings).toEqual([])
  expect(report.sound).toBe(true)
  expect(report.parts).toBe(1)
  return report
}

/** Every corner's normal is of unit length and leans outwards with its triangle. */
function expectNormals(solid: Solid) {
  const normals = normalsOf(solid)
  const { positions: p, indices } = solid
  let [uneven, least] = [0, Infinity]
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [3 * indices[t], 3 * indices[t + 1], 3 * indices[t + 2]]
    const u = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]]
    const v = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]]
    const n = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]]
    for (let k = 0; k < 3; k++) {
      const [x, y, z] = normals.subarray(3 * (t + k), 3 * (t + k) + 3)
      uneven = Math.max(uneven, Math.abs(Math.hypot(x, y, z) - 1))
      least = Math.min(least, x * n[0] + y * n[1] + z * n[2])
    }
  }
  expect(uneven).toBeLessThan(1e-4)
  expect(least).toBeGreaterThan(0)
}

const length = fc.integer({ min: 20, max: 600 }).map((n) => n / 10)

describe('turned', () => {
  it('is sound and has the volume of its frustums for any profile from axis to axis', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(length, length), { minLength: 1, maxLength: 8 }),
        length,
        fc.integer({ min: 4, max: 16 }).map((n) => 4 * n),
        (rungs, last, sides) => {
          const side: [number, number] = [1, 0]
          let y = 0
          const points = [{ r: 0, y: 0 }, ...rungs.map(([r, rise]) => ({ r, y: (y += rise) })), { r: 0, y: y + last }]
          const solid = turned(
            points.map((p) => ({ ...p, group: 0, before: side, after: side })),
            false,
            sides,
            LATTICE,
          )
          const wanted = points.slice(1).reduce((sum, q, i) => sum + frustum(polygon(sides), points[i].r, q.r, q.y - points[i].y), 0)
          expect(expectSound(solid).volume / wanted).toBeCloseTo(1, 3)
        },
      ),
      { numRuns: 60 },
    )
  })
})

describe('turnedBar', () => {
  it('is a cylinder, a cone, or what is between', () => {
    fc.assert(
      fc.property(length, fc.oneof(fc.constant(0), length), length, (r0, r1, height) => {
        const solid = turnedBar(r0, r1, height, 32, LATTICE)
        const report = expectSound(solid)
        expect(report.volume / frustum(polygon(32), r0, r1, height)).toBeCloseTo(1, 3)
        expect(report.size[1]).toBeCloseTo(height, 3)
        expectNormals(solid)
      }),
      { numRuns: 60 },
    )
  })
})

describe('turnedRing', () => {
  it('has the volume that Pappus gives it', () => {
    fc.assert(
      fc.property(length, fc.integer({ min: 10, max: 90 }), (radius, percent) => {
        const bar = (radius * percent) / 100
        const report = expectSound(turnedRing(radius, bar, 48, 24, LATTICE))
        // a polygon of 24 sides, whose middle goes round one of 48
        expect(report.volume / (polygon(24) * bar * bar * 2 * polygon(48) * radius)).toBeCloseTo(1, 2)
        expect(report.size[0]).toBeCloseTo(2 * (radius + bar), 2)
        expect(report.size[1]).toBeCloseTo(2 * bar, 2)
      }),
      { numRuns: 40 },
    )
  })
})

describe('roundedBox', () => {
  it('is as large as asked and has the volume of a box without its corners', () => {
    fc.assert(
      fc.property(length, length, length, fc.integer({ min: 0, max: 99 }), (w, h, d, percent) => {
        const r = (Math.min(w, h, d) / 2) * (percent / 100)
        const solid = roundedBox(w, h, d, r, 12, LATTICE)
        const report = expectSound(solid)
        for (const [k, size] of [w, h, d].entries()) expect(report.size[k]).toBeCloseTo(size, 2)
        const [a, b, c] = [w - 2 * r, h - 2 * r, d - 2 * r]
        const whole = a * b * c + 2 * r * (a * b + b * c + c * a) + Math.PI * r * r * (a + b + c) + (4 / 3) * Math.PI * r ** 3
        expect(report.volume / whole).toBeGreaterThan(0.985)
        expect(report.volume / whole).toBeLessThan(1.0005)
        expectNormals(solid)
      }),
      { numRuns: 60 },
    )
  })
})

describe('sidesFor', () => {
  it('keeps chords within the tolerance, in fours, and never has too many or too few', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 500 }), fc.integer({ min: 1, max: 100 }), (radius, hundredths) => {
        const tolerance = hundredths / 100
        const sides = sidesFor(radius, tolerance)
        expect(sides % 4).toBe(0)
        expect(sides).toBeGreaterThanOrEqual(16)
        expect(sides).toBeLessThanOrEqual(512)
        if (sides < 512) expect(radius * (1 - Math.cos(Math.PI / sides))).toBeLessThanOrEqual(tolerance * 1.0001)
      }),
    )
  })
})
