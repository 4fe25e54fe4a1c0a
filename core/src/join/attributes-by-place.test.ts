import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { ballBody, bumps } from '../../test/bodies'
import { FULL } from '../../test/helpers'
import { loadManifold } from '../kernel/manifold'
import { transformed } from '../solid/operations'
import { roundedBox, turnedRing } from '../solid/revolve'
import { normalsOf, uvsOf } from '../solid/shading'
import { type Solid, triangleCount, vertexCount } from '../solid/solid'
import { attributesByPlace } from './attributes-by-place'
import { withKernelSolids } from './bridge'

const LATTICE = 2 ** -14
const NAMES = ['normal', 'uv', 'weight'] as const
beforeAll(async () => void (await loadManifold()))

/** A solid with shading, texture and a weight that grows evenly from left to right. */
const dressed = (solid: Solid): Solid => ({
  ...solid,
  attributes: {
    normal: normalsOf(solid),
    uv: uvsOf(solid),
    weight: Float32Array.from({ length: vertexCount(solid) }, (_, v) => 0.5 + solid.positions[3 * v] / 200),
  },
})

const bodies = [ballBody(40, 16, bumps(2)), turnedRing(25, 15, 40, 20, LATTICE), roundedBox(80, 60, 40, 4, 12, LATTICE)]

/** Twice the area of a triangle over its longest side, mm. */
function narrowest({ positions: p, indices }: Solid, t: number): number {
  const [a, b, c] = [0, 1, 2].map((k) => Array.from(p.subarray(3 * indices[3 * t + k], 3 * indices[3 * t + k] + 3)))
  const [u, v, w] = [b.map((x, k) => x - a[k]), c.map((x, k) => x - a[k]), c.map((x, k) => x - b[k])]
  const area = Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0])
  return area / Math.max(Math.hypot(...u), Math.hypot(...v), Math.hypot(...w))
}

describe('attributes read by place', () => {
  it('are what the solid kernel carries along where two bodies have something in common', () => {
    let compared = 0
    fc.assert(
      fc.property(
        fc.nat(bodies.length - 1),
        fc.nat(bodies.length - 1),
        fc.array(fc.double({ min: -18, max: 18, noNaN: true }), { minLength: 3, maxLength: 3 }),
        (i, j, by) => {
          const a = dressed(bodies[i])
          const b = dressed(transformed(bodies[j], [0, -1, 0, by[0], 0, 0, -1, by[1], 1, 0, 0, by[2]], LATTICE))
          const carried = withKernelSolids(NAMES, (kernel) =>
            kernel.takeRounded(kernel.own(kernel.put(a, { everySide: true }).intersect(kernel.put(b, { everySide: true }))), LATTICE),
          )
          const read = withKernelSolids([], (kernel) =>
            kernel.common(kernel.put(a, { everySide: true }), kernel.put(b, { everySide: true }), (inner, common) => inner.takeByPlace(common, LATTICE, NAMES)),
          )
          expect(read.indices).toEqual(carried.indices)
          expect(read.positions).toEqual(carried.positions)
          for (let t = 0; t < triangleCount(read); t++) {
            // where slivers were left, a step of the lattice is much
            if (narrowest(read, t) < 0.05) continue
            compared++
            for (let h = 3 * t; h < 3 * t + 3; h++) {
              const off = (name: (typeof NAMES)[number], size: number, at: number) =>
                Math.max(
                  ...Array.from({ length: size }, (_, k) =>
                    Math.abs((read.attributes[name]?.[size * at + k] ?? NaN) - (carried.attributes[name]?.[size * at + k] ?? NaN)),
                  ),
                )
              expect(off('normal', 3, h)).toBeLessThan(0.01)
              expect(off('uv', 2, h)).toBeLessThan(0.02)
              expect(off('weight', 1, read.indices[h])).toBeLessThan(1e-3)
            }
          }
        },
      ),
      { numRuns: FULL ? 12 : 8 },
    )
    expect(compared).toBeGreaterThan(3000)
  })

  it('are exactly those of corners that were kept, and never beyond those of a triangle’s corners, not even for slivers', () => {
    const body = dressed(bodies[2])
    fc.assert(
      fc.property(fc.nat(triangleCount(body) - 1), fc.array(fc.double({ min: -0.2, max: 1.2, noNaN: true }), { minLength: 2, maxLength: 2 }), (t, [s, r]) => {
        const corners = [0, 1, 2].map((k) => 3 * body.indices[3 * t + k])
        const place = [0, 1, 2].map((k) => {
          const [a, b, c] = corners.map((v) => body.positions[v + k])
          return a + s * (b - a) + r * (c - a)
        })
        // one triangle: a kept corner, the place, and another kept corner
        const positions = Float64Array.from([
          ...body.positions.subarray(corners[1], corners[1] + 3),
          ...place,
          ...body.positions.subarray(corners[0], corners[0] + 3),
        ])
        const { uv } = attributesByPlace(['uv'], positions, Uint32Array.of(0, 1, 2), [{ solid: body, from: 0, to: 1 }], Uint32Array.of(t))
        const of = (k: number) => [0, 1].map((n) => body.attributes.uv?.[2 * (3 * t + k) + n] ?? NaN)
        expect(Array.from(uv?.subarray(0, 2) ?? [])).toEqual(of(1))
        expect(Array.from(uv?.subarray(4, 6) ?? [])).toEqual(of(0))
        for (const n of [0, 1]) {
          const three = [0, 1, 2].map((k) => of(k)[n])
          expect(uv?.[2 + n]).toBeGreaterThanOrEqual(Math.min(...three) - 1e-4)
          expect(uv?.[2 + n]).toBeLessThanOrEqual(Math.max(...three) + 1e-4)
        }
      }),
    )
  })
})
