import fc from 'fast-check'
import type { CurvePoint } from '../src/outline/through-points'
import type { Composed } from '../src/deform/composed'
import type { Deformation } from '../src/deform/deformation'
import type { Box } from '../src/deform/units'

export const number = (min: number, max: number) => fc.double({ min, max, noNaN: true })
/** What random deformations are made for. */
export const BOX: Box = [-60, -20, -5, 70, 25, 8]
const axis = fc.constantFrom<0 | 1 | 2>(0, 1, 2)
export const share = number(0, 1)
/** Somewhere in it. */
export const place = fc.tuple(share, share, share).map((at) => at.map((f, k) => BOX[k] + f * (BOX[3 + k] - BOX[k])))
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

/** Any that has bounds there, and some that have none. */
export const deformation: fc.Arbitrary<Deformation> = fc.oneof(
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

/** Maps all vertices of a piece, which lie at `p`, one by one. */
export function mapVertices(map: Composed, p: Float64Array): void {
  for (let v = 0; 3 * v < p.length; v++) map.between(p, 3 * v, v, v, 0)
}
