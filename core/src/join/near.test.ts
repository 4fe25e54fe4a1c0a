import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { ballBody, bottleBody, bumps, noise } from '../../test/bodies'
import { FULL } from '../../test/helpers'
import { surfaceMeasures } from '../../test/surface-measures'
import { checkMesh } from '../check/check'
import { placeMatrix } from '../document/place'
import { loadManifold } from '../kernel/manifold'
import { joinSolids, transformed } from '../solid/operations'
import { roundedBox, turnedRing } from '../solid/revolve'
import { attributeOf, normalsOf, uvsOf } from '../solid/shading'
import { type Solid, solidBounds, triangleCount } from '../solid/solid'
import { volumeOf } from '../solid/volume'
import { withKernelSolids } from './bridge'
import { asInside, attributesOf, JOINS, joinSolid } from './join'
import type { Box } from './mend'
import { nearOf } from './near'

const LATTICE = 2 ** -14
const EVERYWHERE = [-Infinity, -Infinity, -Infinity, Infinity, Infinity, Infinity] as const
beforeAll(async () => void (await loadManifold()))

const inverted = (solid: Solid): Solid => ({ ...solid, indices: solid.indices.map((_, i, all) => all[i - (i % 3) + 2 - (i % 3)]) })
const bodies: Record<string, Solid> = {
  stone: ballBody(40, 20, bumps(2)),
  bottle: bottleBody(72, 36),
  ring: turnedRing(25, 15, 64, 32, LATTICE),
  'box with large faces': roundedBox(80, 60, 40, 4, 18, LATTICE),
  'hollow ball': joinSolids([ballBody(40, 18), inverted(ballBody(36, 14))]),
  'two balls': joinSolids([ballBody(20, 16), { ...ballBody(20, 16), positions: ballBody(20, 16).positions.map((v, i) => (i % 3 === 0 ? v + 44 : v)) }]),
}

/** How often a mesh winds round a place: its solid angles there (Van Oosterom & Strackee, "The solid angle of a plane triangle", 1983). */
function winding({ positions: p, indices }: Solid, at: readonly number[]): number {
  let sum = 0
  for (let i = 0; i < indices.length; i += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => [0, 1, 2].map((j) => p[3 * indices[i + k] + j] - at[j]))
    const [la, lb, lc] = [Math.hypot(...a), Math.hypot(...b), Math.hypot(...c)]
    const dot = (u: number[], v: number[]) => u[0] * v[0] + u[1] * v[1] + u[2] * v[2]
    const det = a[0] * (b[1] * c[2] - b[2] * c[1]) - a[1] * (b[0] * c[2] - b[2] * c[0]) + a[2] * (b[0] * c[1] - b[1] * c[0])
    sum += 2 * Math.atan2(det, la * lb * lc + dot(a, b) * lc + dot(b, c) * la + dot(c, a) * lb)
  }
  return sum / (4 * Math.PI)
}

const closed = ({ indices }: Solid) => {
  const sides = new Map<string, number>()
  for (let i = 0; i < indices.length; i++) {
    const [a, b] = [indices[i], indices[i % 3 === 2 ? i - 2 : i + 1]]
    const key = a < b ? `${a} ${b}` : `${b} ${a}`
    sides.set(key, (sides.get(key) ?? 0) + (a < b ? 1 : -1))
  }
  return [...sides.values()].every((sum) => sum === 0)
}

describe('the part of a body near a box', () => {
  it.each(Object.entries(bodies))('of a %s is closed, and winds round every place in the box as the body does', (_, body) => {
    const [x0, y0, z0, x1, y1, z1] = solidBounds(body.positions)
    let [found, asked] = [0, 0]
    fc.assert(
      fc.property(fc.integer(), fc.double({ min: 0.02, max: 0.4, noNaN: true }), (seed, share) => {
        const next = noise(seed)
        const vertex = 3 * Math.floor(((next() + 1) / 2) * (body.positions.length / 3 - 1))
        const half = [x1 - x0, y1 - y0, z1 - z0].map((size) => share * size * (0.3 + 0.3 * (next() + 1)))
        const about = [0, 1, 2].map((k) => body.positions[vertex + k] + 0.5 * half[k] * next())
        const box = [...about.map((v, k) => v - half[k]), ...about.map((v, k) => v + half[k])] as unknown as Box
        asked++
        const near = nearOf(body, box, [])
        if (!near) return
        found++
        expect(closed(near.solid)).toBe(true)
        expect(near.rest.length).toBeGreaterThan(0)
        for (let i = 0; i < 4; i++) {
          const at = about.map((v, k) => v + 0.999 * half[k] * next())
          expect(winding(near.solid, at)).toBeCloseTo(winding(body, at), 6)
        }
      }),
      { numRuns: FULL ? 400 : 12, seed: 11 },
    )
    expect(found).toBeGreaterThan(asked / 2)
  })
})

/** The join of all of the body by the kernel, which knows of no near and far. */
function whole(body: Solid, cutter: Solid, how: (typeof JOINS)[number]): Solid {
  return withKernelSolids(attributesOf([body, cutter]), (kernel) => {
    const [a, b] = [kernel.put(body), kernel.put(how === 'fuse' ? cutter : asInside(cutter, placeMatrix({ position: [0, 0, 0], turn: [0, 0, 0], size: 1 })))]
    return kernel.takeMended(kernel.own(how === 'fuse' ? a.add(b) : how === 'carve' ? a.subtract(b) : a.intersect(b)), LATTICE, EVERYWHERE).solid
  })
}

describe('joins of large bodies', () => {
  it.each(Object.entries(bodies))('a %s comes out as from the kernel by itself: sound, of its volume, areas, texture and shading', (_, body) => {
    const shaded: Solid = { ...body, attributes: { normal: normalsOf(body), uv: uvsOf(body) } }
    let joined = 0
    fc.assert(
      fc.property(fc.integer(), (seed) => {
        const next = noise(seed)
        const vertex = 3 * Math.floor(((next() + 1) / 2) * (body.positions.length / 3 - 1))
        const position = [0, 1, 2].map((k) => body.positions[vertex + k] + 2 * next()) as [number, number, number]
        const matrix = placeMatrix({ position, turn: [180 * next(), 90 * next(), 180 * next()], size: 0.6 + 0.3 * next() })
        const cutter = transformed(roundedBox(10, 12, 8, 2, 4, LATTICE), matrix, LATTICE)
        for (const how of JOINS) {
          const [own, oracle] = [
            joinSolid(shaded, [{ solid: cutter, matrix: placeMatrix({ position: [0, 0, 0], turn: [0, 0, 0], size: 1 }) }], how),
            whole(shaded, cutter, how),
          ]
          if (!own.ok) {
            expect(own.why).toBe('empty')
            expect(triangleCount(oracle)).toBe(0)
            continue
          }
          joined++
          expect(checkMesh(own.solid).findings).toEqual([])
          expect(Math.abs(own.after - volumeOf(own.solid))).toBeLessThan(1e-6 * own.before)
          expect(Math.abs(own.before - volumeOf(body))).toBeLessThan(1e-6 * own.before)
          const [is, was] = [surfaceMeasures(own.solid), surfaceMeasures(oracle)]
          expect(Object.keys(is).sort()).toEqual(Object.keys(was).sort())
          for (const key of Object.keys(was)) expect(Math.abs(is[key] - was[key]), `${how} ${key}`).toBeLessThan(0.02 + 1e-4 * Math.abs(was[key]))
        }
      }),
      { numRuns: FULL ? 200 : 4, seed: 3 },
    )
    expect(joined).toBeGreaterThan(6)
  })

  it('keep what is at their vertices, and every triangle that lies elsewhere', () => {
    const stone = bodies.stone
    const weight = Float32Array.from({ length: stone.positions.length / 3 }, (_, v) => (stone.positions[3 * v + 1] + 45) / 90)
    const joined = joinSolid(
      { ...stone, attributes: { weight } },
      [{ solid: roundedBox(10, 12, 8, 2, 4, LATTICE), matrix: placeMatrix({ position: [0, -5, 38], turn: [0, 0, 0], size: 1 }) }],
      'carve',
    )
    if (!joined.ok) throw new Error(joined.why)
    const made = attributeOf(joined.solid, 'weight')
    const places = new Map(Array.from(weight, (w, v) => [stone.positions.subarray(3 * v, 3 * v + 3).join(), w]))
    let kept = 0
    for (let v = 0; 3 * v < joined.solid.positions.length; v++) {
      const was = places.get(joined.solid.positions.subarray(3 * v, 3 * v + 3).join())
      if (was === undefined) continue
      kept++
      expect(made[v]).toBeCloseTo(was, 6)
    }
    expect(kept).toBeGreaterThan(0.9 * weight.length)
  })
})
