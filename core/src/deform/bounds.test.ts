import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { CurvePoint } from '../outline/through-points'
import { boundsOf, straightBelow } from './bounds'
import { Composed, type Stage } from './composed'
import { type Deformation, mapOf } from './deformation'
import type { Box } from './units'

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true })
const BOX: Box = [-60, -20, -5, 70, 25, 8]
const [axis, share] = [fc.constantFrom<0 | 1 | 2>(0, 1, 2), number(0, 1)]
const place = fc.tuple(share, share, share).map((at) => at.map((f, k) => BOX[k] + f * (BOX[3 + k] - BOX[k])))
const centre = fc.tuple(number(-90, 90), number(-40, 40), number(-20, 20))
/** Around the box, or ending somewhere in it, where the map has a corner. */
const extent = (along: number) =>
  fc.oneof(
    fc.constant({ from: BOX[along], to: BOX[3 + along] }),
    fc.tuple(number(0, 50), number(0, 50)).map(([a, b]) => ({ from: BOX[along] - a, to: BOX[3 + along] + b })),
    fc.tuple(number(0, 0.4), number(0.6, 1)).map(([a, b]) => ({
      from: BOX[along] + a * (BOX[3 + along] - BOX[along]),
      to: BOX[along] + b * (BOX[3 + along] - BOX[along]),
    })),
  )
const curve = fc.array(fc.tuple(share, number(0.2, 3)), { minLength: 0, maxLength: 3 }).chain((inner) =>
  fc.tuple(number(0.2, 3), number(0.2, 3), fc.boolean()).map(([first, last, whole]): CurvePoint[] => {
    const sorted = inner.map(([t, v]): CurvePoint => [0.05 + 0.9 * t, v]).sort((a, b) => a[0] - b[0])
    const apart = sorted.filter(([t], i) => i === 0 || t - sorted[i - 1][0] > 0.02)
    return [[whole ? 0 : 0.03, first], ...apart, [1, last]]
  }),
)

const deformation: fc.Arbitrary<Deformation> = fc.oneof(
  axis.chain((along) =>
    fc.record({
      kind: fc.constant('bend' as const),
      along: fc.constant(along),
      towards: axis.filter((k) => k !== along),
      extent: extent(along),
      middle: number(-50, 50),
      neutral: number(-20, 20),
      curvature: number(-0.03, 0.03),
    }),
  ),
  axis.chain((about) =>
    fc.record({
      kind: fc.constant('twist' as const),
      about: fc.constant(about),
      extent: extent(about),
      centre: fc.tuple(number(-20, 20), number(-20, 20)),
      start: number(-180, 180),
      end: number(-180, 180),
    }),
  ),
  axis.chain((along) =>
    fc.record({
      kind: fc.constant('taper' as const),
      along: fc.constant(along),
      extent: extent(along),
      centre,
      sized: fc.tuple(fc.boolean(), fc.boolean(), fc.boolean()).map((sized) => sized.map((is, k) => is && k !== along) as [boolean, boolean, boolean]),
      curve,
    }),
  ),
  fc.record({
    kind: fc.constant('wave' as const),
    along: fc.oneof(axis, fc.constant('ring' as const)),
    moved: axis,
    centre: fc.tuple(number(-150, 150), number(-60, 60)),
    start: number(-50, 50),
    height: number(-6, 6),
    length: number(8, 200),
    phase: number(-180, 180),
  }),
  fc.record({
    kind: fc.constant('bulge' as const),
    centre,
    axes: fc.tuple(fc.boolean(), fc.boolean(), fc.boolean()),
    radius: number(5, 120),
    amount: number(-0.9, 1.2),
  }),
  fc.record({
    kind: fc.constant('shear' as const),
    moved: fc.constant(0 as const),
    by: fc.constantFrom<1 | 2>(1, 2),
    level: number(-20, 20),
    slope: number(-2, 2),
  }),
  fc.record({ kind: fc.constant('stretch' as const), factors: fc.tuple(number(0.2, 3), number(0.2, 3), number(0.2, 3)), centre }),
)

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
          const longest = straightBelow(stages, BOX, tolerance)
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
    const longest = straightBelow(stages, BOX, 0.05)
    const map = new Composed(stages)
    const off = offChord((p) => map.between(p, 0, 0, 0, 0), [0, 0, 0], [longest, 0, 0])
    expect(off).toBeGreaterThan(0.05 / 3)
    expect(off).toBeLessThanOrEqual(0.05)
  })

  it('are not there with weights, nor for what is not known', () => {
    const bend: Deformation = { kind: 'bend', along: 0, towards: 1, extent: { from: -60, to: 70 }, middle: 0, neutral: 0, curvature: 0.01 }
    expect(straightBelow([{ by: [bend], strength: 1 }], BOX, 0.01)).toBeGreaterThan(1)
    expect(straightBelow([{ by: [bend], strength: 1, weights: new Float32Array(3) }], BOX, 0.01)).toBe(0)
    expect(boundsOf({ ...bend, extent: { from: -10, to: 10 } }, BOX)).toBeUndefined()
    expect(straightBelow([{ by: [{ kind: 'shear', moved: 0, by: 1, level: 0, slope: 1 }], strength: 1 }], BOX, 0.01)).toBe(Infinity)
  })
})
