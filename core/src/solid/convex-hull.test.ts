import fc from 'fast-check'
import { orient3d } from 'robust-predicates'
import { beforeAll, describe, expect, it } from 'vitest'
import { checkMesh } from '../check/check'
import { loadManifold, manifold, withScope } from '../kernel/manifold'
import { convexHull } from './convex-hull'

beforeAll(() => loadManifold())

/** The hull's own faults: a side without its counterpart, a point in front of a triangle, a corner that is none of the points. */
function faults(p: Float64Array, hull: Int32Array): string[] {
  const out: string[] = []
  const sides = new Set<string>()
  for (let i = 0; i < hull.length; i++) sides.add(`${hull[i]} ${hull[i % 3 === 2 ? i - 2 : i + 1]}`)
  if (sides.size !== hull.length) out.push('a side comes twice')
  for (const side of sides) if (!sides.has(side.split(' ').reverse().join(' '))) out.push('a side is open')
  const at = (v: number) => [p[3 * v], p[3 * v + 1], p[3 * v + 2]] as const
  for (let i = 0; i < hull.length; i += 3)
    for (let v = 0; v < p.length / 3; v++) if (orient3d(...at(hull[i]), ...at(hull[i + 1]), ...at(hull[i + 2]), ...at(v)) < 0) out.push('a point lies in front')
  const corners = new Set(hull)
  if (hull.length / 3 !== 2 * corners.size - 4) out.push('it is no ball')
  return out
}

const kernelVolume = (p: Float64Array): number =>
  withScope((own) => {
    const list = Array.from({ length: p.length / 3 }, (_, i) => [p[3 * i], p[3 * i + 1], p[3 * i + 2]] as [number, number, number])
    return own(manifold().Manifold.hull(list)).volume()
  })

describe('The convex hull', () => {
  it('of any points is convex and closed, holds them all, and is as large as the kernel’s', () => {
    const number = fc.double({ min: -50, max: 50, noNaN: true })
    fc.assert(
      fc.property(fc.array(fc.tuple(number, number, number), { minLength: 4, maxLength: 80 }), (list) => {
        const p = Float64Array.from(list.flat(), (v) => Math.round(v * 1024) / 1024)
        const hull = convexHull(p)
        if (!hull) return
        expect(faults(p, hull)).toEqual([])
        const report = checkMesh({ positions: p, indices: Uint32Array.from(hull) })
        expect(report.volume).toBeGreaterThan(0)
        if (report.volume > 1) expect(Math.abs(report.volume / kernelVolume(p) - 1)).toBeLessThan(1e-4)
      }),
      { numRuns: 200 },
    )
  })

  it('bears points that are many in one plane, in one line, or the same', () => {
    let made = 0
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(3), fc.nat(3), fc.nat(3)), { minLength: 1, maxLength: 40 }), (list) => {
        const p = Float64Array.from(list.flat())
        const hull = convexHull(p)
        if (!hull) return
        made++
        expect(faults(p, hull)).toEqual([])
      }),
      { numRuns: 500 },
    )
    expect(made).toBeGreaterThan(200)
  })

  it('of rings whose corners lie in planes but for rounding has all their corners, and each ring whole', () => {
    const turn = (2 * Math.PI) / 12
    fc.assert(
      fc.property(fc.tuple(fc.double({ min: 0.1, max: 3, noNaN: true }), fc.double({ min: 0.1, max: 1.2, noNaN: true })), ([about, tilt]) => {
        const points: number[] = []
        // two bars at an angle: a ring square to each, 5 mm out
        for (const way of [-1, 1]) {
          const [c, s] = [Math.cos(way * (0.8 + tilt / 4)), Math.sin(way * (0.8 + tilt / 4))]
          for (let k = 0; k < 12; k++) {
            const [u, v] = [Math.cos(about + k * turn), Math.sin(about + k * turn)]
            points.push(...[5 * c - u * s, 5 * s + u * c, v].map((x) => Math.round(x * 16384) / 16384))
          }
        }
        const p = Float64Array.from(points)
        const hull = convexHull(p)
        if (!hull) throw new Error('none')
        expect(faults(p, hull)).toEqual([])
        expect(new Set(hull).size).toBe(24)
        for (const ring of [0, 1]) {
          let own = 0
          for (let i = 0; i < hull.length; i += 3) if ([0, 1, 2].every((k) => Math.floor(hull[i + k] / 12) === ring)) own++
          expect(own).toBe(10)
        }
      }),
      { numRuns: 60 },
    )
  })

  it('is none of points in a plane, in a line, in one place, or of none', () => {
    const flat = Float64Array.from({ length: 60 }, (_, i) => (i % 3 === 2 ? 4 : (i * 7919) % 31))
    for (const p of [flat, Float64Array.from([0, 0, 0, 1, 1, 1, 2, 2, 2, 3, 3, 3]), new Float64Array(30), new Float64Array(0), Float64Array.of(1, 2, 3)])
      expect(convexHull(p)).toBeUndefined()
  })
})
