import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { polygons } from '../../test/helpers'
import { loadManifold } from '../kernel/manifold'
import { bodiesMeet, surfacesMeet } from './bodies-apart'
import { extrudePolygons } from './extrude'
import type { Placed } from './operations'
import { roundedBox } from './revolve'
import type { Solid } from './solid'

const L = 2 ** -10
await loadManifold()
const angle = extrudePolygons(
  polygons([
    [0, 0],
    [20, 0],
    [20, 4],
    [4, 4],
    [4, 30],
    [0, 30],
  ]),
  { depth: 6, tolerance: 0.02 },
).solid
const ball = roundedBox(6, 6, 6, 3, 4, L)
const at = (solid: Solid, dx: number, dy: number, dz: number): Placed => ({ solid, dx, dy, dz, letters: [] })

/** Every triangle's box of the one with every one of the other. */
function meet(a: Placed, b: Placed): boolean {
  const boxes = ({ solid: { positions: p, indices }, ...by }: Placed) =>
    Array.from({ length: indices.length / 3 }, (_, t) =>
      ([by.dx, by.dy, by.dz] as const).map((move, k) => {
        const on = [0, 1, 2].map((corner) => p[3 * indices[3 * t + corner] + k] + move)
        return [Math.min(...on), Math.max(...on)] as const
      }),
    )
  const others = boxes(b)
  return boxes(a).some((one) => others.some((other) => one.every(([low, high], k) => low <= other[k][1] && other[k][0] <= high)))
}

describe('bodies', () => {
  it('have surfaces that may meet where boxes of their triangles do, and not where only their own do', () => {
    const off = (most: number) => fc.integer({ min: -most / L, max: most / L }).map((steps) => steps * L)
    let [apart, close] = [0, 0]
    fc.assert(
      fc.property(fc.constantFrom(angle, ball), off(21), off(28), off(7), (other, dx, dy, dz) => {
        const bodies = [at(angle, 0, 0, 0), at(other, dx, dy, dz)]
        const truly = meet(bodies[0], bodies[1])
        expect(surfacesMeet(bodies)).toBe(truly)
        // whichever comes first, and among others that are far off
        expect(surfacesMeet([at(ball, 500, 0, 0), ...bodies.reverse()])).toBe(truly)
        if (truly) expect(bodiesMeet(bodies)).toBe(true)
        if (truly) close++
        else if (bodiesMeet(bodies)) apart++
      }),
      { numRuns: 300 },
    )
    expect(Math.min(apart, close)).toBeGreaterThan(10)
  })
})
