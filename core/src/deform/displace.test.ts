import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { ballBody, noise, plainSolid } from '../../test/bodies'
import { boxMesh } from '../../test/helpers'
import { checkMesh } from '../check/check'
import { loadManifold } from '../kernel/manifold'
import { type Solid, triangleCount, vertexCount } from '../solid/solid'
import { displaced, finerForDisplacing, vertexNormals } from './displace'

beforeAll(async () => void (await loadManifold()))

const box = (): Solid => {
  const { positions, indices } = boxMesh(0, 0, 0, 20, 12, 8)
  return plainSolid(positions, indices)
}

const fine = (solid: Solid, edge: number): Solid => {
  const made = finerForDisplacing(solid, edge, 400_000)
  if (!made) throw new Error('too many')
  return made
}

/** All sides of a solid's triangles, mm, and the two vertices of each. */
function sides({ positions: p, indices }: Solid): { length: number; ends: [number, number] }[] {
  return Array.from(indices, (a, i) => {
    const b = indices[i % 3 === 2 ? i - 2 : i + 1]
    return { length: Math.hypot(p[3 * a] - p[3 * b], p[3 * a + 1] - p[3 * b + 1], p[3 * a + 2] - p[3 * b + 2]), ends: [a, b] as [number, number] }
  })
}

describe('making a surface fine', () => {
  it('has no side longer than asked, the same volume and area, and stays closed', () => {
    for (const edge of [0.7, 1.5, 4]) {
      const made = fine(box(), edge)
      expect(Math.max(...sides(made).map(({ length }) => length))).toBeLessThanOrEqual(edge + 1e-9)
      const { volume, area, findings } = checkMesh(made)
      expect(findings).toEqual([])
      expect(volume).toBeCloseTo(20 * 12 * 8, 3)
      expect(area).toBeCloseTo(2 * (240 + 160 + 96), 3)
    }
  })

  it('is fine only where something acts, and weights of new vertices lie between those beside them', () => {
    const solid = fine(box(), 3)
    // the end at x = 20 is acted on
    const weight = Float32Array.from({ length: vertexCount(solid) }, (_, v) => (solid.positions[3 * v] > 15 ? 1 : 0))
    const made = fine({ ...solid, attributes: { weight } }, 0.8)
    const weights = made.attributes.weight as Float32Array
    expect(weights).toHaveLength(vertexCount(made))
    const all = fine(box(), 0.8)
    expect(triangleCount(made)).toBeLessThan(triangleCount(all))
    for (const { length, ends } of sides(made)) if (weights[ends[0]] > 0.5 && weights[ends[1]] > 0.5) expect(length).toBeLessThanOrEqual(0.8 * 1.5)
    for (const w of weights) {
      expect(w).toBeGreaterThanOrEqual(0)
      expect(w).toBeLessThanOrEqual(1)
    }
    // along one way it only grows
    for (let v = 0; v < weights.length; v++) if (made.positions[3 * v] === 20) expect(weights[v]).toBe(1)
  })

  it('says when there would be too many triangles, instead of making them', () => {
    expect(finerForDisplacing(box(), 0.1, 20_000)).toBeUndefined()
    expect(finerForDisplacing(box(), 50, 20_000)).toBeDefined()
  })
})

describe('normals at vertices', () => {
  it('look straight out of a ball, to within a few degrees of its division, and are of length 1', () => {
    for (const parts of [6, 12, 24]) {
      const { positions, indices } = ballBody(10, parts)
      const normals = vertexNormals({ positions, indices })
      let worst = 1
      for (let v = 0; v < positions.length; v += 3) {
        expect(Math.hypot(normals[v], normals[v + 1], normals[v + 2])).toBeCloseTo(1, 9)
        worst = Math.min(worst, (normals[v] * positions[v] + normals[v + 1] * positions[v + 1] + normals[v + 2] * positions[v + 2]) / 10)
      }
      expect((Math.acos(Math.min(1, worst)) * 180) / Math.PI).toBeLessThan(60 / parts)
    }
  })

  it('are nought where there is no triangle, and none is lost to slivers', () => {
    const normals = vertexNormals({ positions: Float64Array.from([0, 0, 0, 1, 0, 0, 0, 1, 0, 5, 5, 5]), indices: Uint32Array.from([0, 1, 2]) })
    expect([...normals]).toEqual([0, 0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 0])
  })
})

describe('displacing', () => {
  it('grows a ball by what is asked along its normals: radius and volume', () => {
    const ball = fine(ballBody(10, 16), 1)
    fc.assert(
      fc.property(fc.double({ min: -3, max: 3, noNaN: true }), (by) => {
        const moved = displaced(ball, () => by, vertexNormals(ball))
        for (let v = 0; v < moved.positions.length; v += 3) {
          const was = Math.hypot(ball.positions[v], ball.positions[v + 1], ball.positions[v + 2])
          const is = Math.hypot(moved.positions[v], moved.positions[v + 1], moved.positions[v + 2])
          expect(Math.abs(is - was - by)).toBeLessThan(0.02)
        }
        const scale = (10 + by) / 10
        expect(checkMesh(moved).volume / checkMesh(ball).volume / scale ** 3).toBeCloseTo(1, 2)
      }),
      { numRuns: 10 },
    )
  })

  it('moves as much as the weights say, leaves what they leave out exactly, and stands on the lattice', () => {
    const solid = fine(box(), 1.2)
    const draw = noise(7)
    const weight = Float32Array.from({ length: vertexCount(solid) }, () => Math.max(0, draw() - 0.3))
    expect(weight.some((w) => w === 0)).toBe(true)
    const weighted: Solid = { ...solid, attributes: { ...solid.attributes, weight } }
    const moved = displaced(weighted, (v, p) => 0.5 + 0.02 * p[3 * v], [0, 0, 1])
    for (let v = 0; v < vertexCount(solid); v++) {
      const [o, w] = [3 * v, weight[v]]
      expect(moved.positions[o]).toBe(solid.positions[o])
      expect(moved.positions[o + 1]).toBe(solid.positions[o + 1])
      const by = moved.positions[o + 2] - solid.positions[o + 2]
      if (w === 0) expect(by).toBe(0)
      else expect(Math.abs(by - w * (0.5 + 0.02 * solid.positions[o]))).toBeLessThanOrEqual(solid.lattice)
      expect(Number.isInteger(moved.positions[o + 2] / solid.lattice)).toBe(true)
    }
    // the given one is untouched
    expect(checkMesh(solid).volume).toBeCloseTo(20 * 12 * 8, 3)
  })

  it('keeps edges sharp that were, and smooth ones smooth', () => {
    const angles = (solid: Solid) => {
      const normals = solid.attributes.normal as Float32Array
      const at = new Map<number, number[]>()
      solid.indices.forEach((v, i) => at.set(v, [...(at.get(v) ?? []), i]))
      const found: number[] = []
      for (const corners of at.values())
        for (const c of corners.slice(1)) {
          const dot = [0, 1, 2].reduce((sum, k) => sum + normals[3 * c + k] * normals[3 * corners[0] + k], 0)
          found.push((Math.acos(Math.max(-1, Math.min(1, dot))) * 180) / Math.PI)
        }
      return found
    }
    // a box lifted by a gentle wave: its sides stay at right angles or nearly, its faces have no creases
    const lifted = displaced(fine(box(), 1), (v, p) => 0.3 * Math.sin(p[3 * v] / 6), [0, 0, 1])
    const creases = angles(lifted)
    expect(creases.some((a) => a > 80)).toBe(true)
    for (const a of creases) expect(a < 1 || a > 80).toBe(true)
    // unit normals everywhere
    const normals = lifted.attributes.normal as Float32Array
    for (let i = 0; i < normals.length; i += 3) expect(Math.hypot(normals[i], normals[i + 1], normals[i + 2])).toBeCloseTo(1, 4)
  })
})
