import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { BOX, deformation, number, place, share } from '../../test/deformations'
import { boundsOf, boundsOfAll, cellsOf, straightBelow } from './bounds'
import { Composed, type Stage } from './composed'
import { type Deformation, mapOf } from './deformation'

const apart = (a: ArrayLike<number>, b: ArrayLike<number>) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2])
const between = (a: readonly number[], b: readonly number[], f: number) => Float64Array.from([0, 1, 2], (k) => a[k] + f * (b[k] - a[k]))
/** As far as anything is off a chord, by many places of it. */
function offChord(map: (p: Float64Array) => void, a: readonly number[], b: readonly number[]): number {
  const [from, to] = [between(a, b, 0), between(a, b, 1)]
  map(from)
  map(to)
  let most = 0
  for (let i = 1; i < 16; i++) {
    const at = between(a, b, i / 16)
    map(at)
    most = Math.max(most, apart(at, between([...from], [...to], i / 16)))
  }
  return most
}

describe('bounds of deformations', () => {
  it('hold: how much longer a line becomes, how far it is off its chord, and where it lies then', () => {
    let known = 0
    fc.assert(
      fc.property(deformation, place, place, share, (by, a, far, f) => {
        const bounds = boundsOf(by, BOX)
        if (!bounds) return
        known++
        const b = [...between(a, far, f ** 3)]
        const map = mapOf(by)
        const length = apart(a, b)
        const [from, to] = [between(a, b, 0), between(a, b, 1)]
        map(from, 0)
        map(to, 0)
        expect(apart(from, to)).toBeLessThanOrEqual(bounds.slope * length + 1e-9)
        expect(offChord((p) => map(p, 0), a, b)).toBeLessThanOrEqual((bounds.bend * length * length) / 8 + 1e-9)
        for (const at of [from, to])
          for (let k = 0; k < 3; k++) {
            expect(at[k]).toBeGreaterThanOrEqual(bounds.box[k] - 1e-9)
            expect(at[k]).toBeLessThanOrEqual(bounds.box[3 + k] + 1e-9)
          }
      }),
      { numRuns: 3000 },
    )
    expect(known).toBeGreaterThan(1000)
  })

  it('of stacks: no side shorter than they say is off its chord by more than the tolerance', () => {
    const strength = fc.oneof(fc.constant(1), share)
    let known = 0
    fc.assert(
      fc.property(
        fc.array(fc.tuple(deformation, strength), { minLength: 1, maxLength: 4 }),
        place,
        fc.tuple(number(-1, 1), number(-1, 1), number(-1, 1)),
        number(0.005, 0.2),
        (list, a, way, tolerance) => {
          const stages = list.map(([by, of]): Stage => ({ by: [by], strength: of }))
          const longest = straightBelow(boundsOfAll(stages, Float64Array.from(BOX)), tolerance)
          expect(longest).toBeGreaterThanOrEqual(0)
          const size = Math.hypot(...way)
          if (longest === 0 || size === 0) return
          known++
          // no further than the box goes
          const b = a.map((v, k) => Math.min(BOX[3 + k], Math.max(BOX[k], v + (way[k] / size) * Math.min(longest, 500))))
          const length = apart(a, b)
          const map = new Composed(stages)
          const off = offChord((p) => map.between(p, 0, 0, 0, 0), a, length > longest ? [...between(a, b, longest / length)] : b)
          expect(off).toBeLessThanOrEqual(tolerance + 1e-9)
        },
      ),
      { numRuns: 3000 },
    )
    expect(known).toBeGreaterThan(500)
  })

  it('are not so cautious that they are of no use: along a bend sides of that length come to a third of the tolerance', () => {
    const bend: Deformation = { kind: 'bend', along: 0, towards: 1, extent: { from: -60, to: 70 }, middle: 0, neutral: 0, curvature: 0.01 }
    const stages: Stage[] = [{ by: [bend], strength: 1 }]
    const longest = straightBelow(boundsOfAll(stages, Float64Array.from(BOX)), 0.05)
    const map = new Composed(stages)
    const off = offChord((p) => map.between(p, 0, 0, 0, 0), [0, 0, 0], [longest, 0, 0])
    expect(off).toBeGreaterThan(0.05 / 3)
    expect(off).toBeLessThanOrEqual(0.05)
  })

  it('of units go by the boxes of each: an extent that ends with a letter does not end within it', () => {
    const over = (from: number, to: number): Deformation => ({ kind: 'twist', about: 0, extent: { from, to }, centre: [0, 0], start: 0, end: 40 })
    // two letters of four corners each, as words and letters have them at two stages
    const positions = Float64Array.of(0, 0, 0, 10, 1, 0, 10, 0, 2, 0, 1, 2, 12, 0, 0, 20, 1, 0, 20, 0, 2, 12, 1, 2)
    const units = Int32Array.of(0, 0, 0, 0, 1, 1, 1, 1)
    const stages: Stage[] = [
      { by: [over(0, 20)], strength: 1 },
      { by: [over(0, 10), over(12, 20)], units, strength: 1 },
      { by: [over(12, 20), over(0, 10)], units: units.map((unit) => 1 - unit), strength: 1 },
    ]
    expect(cellsOf(stages, 8)).toEqual({
      of: units,
      maps: [
        [0, 0, 1],
        [0, 1, 0],
      ],
    })
    const bounds = boundsOfAll(stages, positions)
    const [one, other] = [0, 1].map((cell) =>
      boundsOfAll(
        stages.map(({ by }, i) => ({ by: [i === 2 ? by[1 - cell] : by[by.length === 1 ? 0 : cell]], strength: 1 })),
        positions.slice(12 * cell, 12 * cell + 12),
      ),
    )
    expect(bounds?.bend).toBe(Math.max(one?.bend ?? 0, other?.bend ?? 0))
    expect(bounds?.slope).toBeGreaterThan(1)
    expect(boundsOfAll([{ by: [over(0, 10), over(12, 20)], units: units.map((unit) => 1 - unit), strength: 1 }], positions)).toBeUndefined()
  })

  it('are not there with weights, nor for what is not known', () => {
    const bend: Deformation = { kind: 'bend', along: 0, towards: 1, extent: { from: -60, to: 70 }, middle: 0, neutral: 0, curvature: 0.01 }
    expect(straightBelow(boundsOfAll([{ by: [bend], strength: 1 }], Float64Array.from(BOX)), 0.01)).toBeGreaterThan(1)
    expect(straightBelow(boundsOfAll([{ by: [bend], strength: 1, weights: new Float32Array(3) }], Float64Array.from(BOX)), 0.01)).toBe(0)
    expect(boundsOf({ ...bend, extent: { from: -10, to: 10 } }, BOX)).toBeUndefined()
    expect(straightBelow(boundsOfAll([{ by: [{ kind: 'shear', moved: 0, by: 1, level: 0, slope: 1 }], strength: 1 }], Float64Array.from(BOX)), 0.01)).toBe(
      Infinity,
    )
  })
})
