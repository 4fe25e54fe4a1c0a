import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { ballBody, noise, plainSolid } from '../../test/bodies'
import { assets, boxMesh, wordRoute } from '../../test/helpers'
import { checkMesh } from '../check/check'
import { evaluateRoute } from '../evaluate/route'
import { loadManifold } from '../kernel/manifold'
import { stoutTriangles, turnedBack, turnedOver } from './flip'
import { refineSolid } from './refine'
import { normalsOf } from './shading'
import type { Solid } from './solid'

beforeAll(async () => void (await loadManifold()))

/** A fan of slivers: a prism over a convex ring whose lid and floor are cut from one corner. */
function fan(points: readonly (readonly [number, number])[], height = 5): Solid {
  const n = points.length
  const positions = [...points.flatMap(([x, y]) => [x, y, 0]), ...points.flatMap(([x, y]) => [x, y, height])]
  const indices: number[] = []
  for (let i = 1; i + 1 < n; i++) indices.push(0, i + 1, i, n, n + i, n + i + 1)
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n
    indices.push(i, j, n + j, i, n + j, n + i)
  }
  return plainSolid(positions, indices)
}

/** The least angle of each triangle, degrees. */
function leastAngles({ positions: p, indices }: Solid): number[] {
  const out: number[] = []
  for (let t = 0; t < indices.length; t += 3) {
    const at = [0, 1, 2].map((k) => [0, 1, 2].map((j) => p[3 * indices[t + k] + j]))
    const angles = at.map((v, k) => {
      const [u, w] = [at[(k + 1) % 3], at[(k + 2) % 3]].map((q) => q.map((x, j) => x - v[j]))
      const dot = u.reduce((sum, x, j) => sum + x * w[j], 0)
      return (Math.acos(Math.max(-1, Math.min(1, dot / (Math.hypot(...u) * Math.hypot(...w))))) * 180) / Math.PI
    })
    out.push(Math.min(...angles))
  }
  return out
}

const ring = fc
  .uniqueArray(fc.integer({ min: 0, max: 71 }), { minLength: 4, maxLength: 24 })
  .map((turns) => turns.sort((a, b) => a - b).map((n): [number, number] => [15 * Math.cos((n * Math.PI) / 36), 8 * Math.sin((n * Math.PI) / 36)]))

/** Corners of triangles in one plane, so that a triangulation of it can be looked at alone. */
const flat = (solid: Solid, z: number) => {
  const { positions: p, indices } = solid
  const out: number[][] = []
  for (let t = 0; t < indices.length; t += 3) {
    const corners = [...indices.subarray(t, t + 3)]
    if (corners.every((v) => p[3 * v + 2] === z)) out.push(corners)
  }
  return out
}

describe('stout triangles', () => {
  it('leave the shape, its vertices and its volume as they are, and close it as before', () => {
    fc.assert(
      fc.property(ring, (points) => {
        const before = fan(points)
        const after = stoutTriangles(before)
        expect(after.positions).toBe(before.positions)
        expect(after.indices).toHaveLength(before.indices.length)
        const [a, b] = [checkMesh(before), checkMesh(after)]
        expect(b.findings).toEqual([])
        expect(b.volume).toBeCloseTo(a.volume, 9)
        expect(b.area).toBeCloseTo(a.area, 9)
      }),
      { numRuns: 40 },
    )
  })

  it('are those of Delaunay on flat places: the circle about none holds a corner of another', () => {
    fc.assert(
      fc.property(ring, (points) => {
        const solid = stoutTriangles(fan(points))
        const p = solid.positions
        for (const z of [0, 5]) {
          const triangles = flat(solid, z)
          const corners = new Set(triangles.flat())
          for (const [a, b, c] of triangles)
            for (const d of corners) {
              if (d === a || d === b || d === c) continue
              const [[ax, ay], [bx, by], [cx, cy]] = [a, b, c].map((v) => [p[3 * v] - p[3 * d], p[3 * v + 1] - p[3 * d + 1]])
              const way = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax)
              const inside = (ax * ax + ay * ay) * (bx * cy - cx * by) - (bx * bx + by * by) * (ax * cy - cx * ay) + (cx * cx + cy * cy) * (ax * by - bx * ay)
              // beyond rounding to the lattice
              expect(Math.sign(way) * inside).toBeLessThan(0.5)
            }
        }
      }),
      { numRuns: 40 },
    )
  })

  it('are stouter, at least as far as the worst goes', () => {
    const points = Array.from({ length: 40 }, (_, i): [number, number] => [15 * Math.cos((i * Math.PI) / 20), 8 * Math.sin((i * Math.PI) / 20)])
    const [before, after] = [fan(points), stoutTriangles(fan(points))].map(leastAngles)
    expect(Math.min(...after)).toBeGreaterThanOrEqual(Math.min(...before) - 1e-9)
  })

  it('stay within their own surface, and leave what is curved', () => {
    const box = boxMesh(0, 0, 0, 10, 1, 10)
    const solid = plainSolid(box.positions, box.indices)
    const apart: Solid = { ...solid, surface: Uint32Array.from(solid.surface, (_, t) => t) }
    expect([...stoutTriangles(apart).indices]).toEqual([...apart.indices])
    const ball = ballBody(10, 6)
    const { volume } = checkMesh(ball)
    expect(checkMesh(stoutTriangles(ball)).volume).toBeCloseTo(volume, 6)
  })

  it('do not take a line that is a side already: no side gets more than two triangles', async () => {
    // so flat that all of it lies in one plane
    const thin = plainSolid([-5, 0, 0, 5, 0, 0, 0, 1, 0, 0, -1, 1e-5], [0, 2, 1, 0, 1, 3, 1, 2, 3, 2, 0, 3])
    expect([...stoutTriangles(thin).indices]).toEqual([...thin.indices])
    // slivers of a step of the lattice, as hairlines’ slopes have them
    const [lettering] = wordRoute('ua', 'monoton', { size: 80 })
    const slopes = { id: 'form', kind: 'prismatic', on: true, params: { by: 'angle', angle: 80, walls: 0.776, tolerance: 0.00732 } }
    const { value } = await evaluateRoute([lettering, slopes], { assets })
    if (value?.kind !== 'solid') throw new Error('no solid')
    expect(checkMesh(stoutTriangles(value), { deep: false }).findings).toEqual([])
  })

  it('take corners’ attributes with them', () => {
    const points = Array.from({ length: 12 }, (_, i): [number, number] => [15 * Math.cos((i * Math.PI) / 6), 4 * Math.sin((i * Math.PI) / 6)])
    const plain = fan(points)
    // each corner says where it is: a texture as large as the world
    const uv = Float32Array.from({ length: 2 * plain.indices.length }, (_, i) => plain.positions[3 * plain.indices[i >> 1] + (i % 2)])
    const after = stoutTriangles({ ...plain, attributes: { uv } })
    expect([...after.indices]).not.toEqual([...plain.indices])
    const moved = after.attributes.uv as Float32Array
    after.indices.forEach((v, c) => {
      expect(moved[2 * c]).toBeCloseTo(after.positions[3 * v], 4)
      expect(moved[2 * c + 1]).toBeCloseTo(after.positions[3 * v + 1], 4)
    })
  })
})

describe('turning back', () => {
  const bent = (): Solid => {
    const ball = ballBody(10, 8)
    const shaded: Solid = { ...ball, attributes: { normal: normalsOf(ball) } }
    return shaded
  }

  it('leaves a surface that looks where its normals say, the very same', () => {
    const solid = bent()
    expect(turnedOver(solid)).toBe(false)
    expect(turnedBack(solid)).toBe(solid)
    const bare = ballBody(10, 4)
    expect(turnedBack(bare)).toBe(bare)
    expect(turnedOver(bare)).toBe(false)
  })

  it('tells one that looks away, and mends a sliver that was bent over', () => {
    // a strip of slivers along x: middle points nearly on the line, drawn over it by bending
    const box = boxMesh(0, 0, 0, 20, 6, 2)
    const refined = refineSolid(plainSolid(box.positions, box.indices), (p, a, b) => (p[a] - p[b]) ** 2 + (p[a + 1] - p[b + 1]) ** 2 > 4)
    if (!refined) throw new Error('not refined')
    const shaded: Solid = { ...refined, attributes: { ...refined.attributes, normal: normalsOf(refined) } }
    const p = shaded.positions.slice()
    const draw = noise(3)
    let worst = shaded
    // some vertex on the upper side is moved across a neighbour's side: triangles there look down then
    for (let v = 0; v < p.length / 3 && !turnedOver(worst); v++) {
      if (p[3 * v + 2] !== 2 || p[3 * v] < 4 || p[3 * v] > 16 || p[3 * v + 1] < 1 || p[3 * v + 1] > 5) continue
      const moved = p.slice()
      moved[3 * v] += 1.4 * Math.sign(draw())
      worst = { ...shaded, positions: moved }
    }
    expect(turnedOver(worst)).toBe(true)
    const mended = turnedBack(worst)
    const away = (solid: Solid) => {
      let n = 0
      const normal = solid.attributes.normal as Float32Array
      const q = solid.positions
      for (let t = 0; t < solid.indices.length; t += 3) {
        const [a, b, c] = [0, 1, 2].map((k) => 3 * solid.indices[t + k])
        const up = (q[b] - q[a]) * (q[c + 1] - q[a + 1]) - (q[b + 1] - q[a + 1]) * (q[c] - q[a])
        if (normal[3 * t + 2] > 0.9 && up < 0) n++
      }
      return n
    }
    expect(away(worst)).toBeGreaterThan(0)
    expect(away(mended)).toBeLessThan(away(worst))
    expect(mended.indices).toHaveLength(worst.indices.length)
    // closed as before: each side once each way
    const sides = new Set<string>()
    for (let i = 0; i < mended.indices.length; i++) sides.add(`${mended.indices[i]}>${mended.indices[i % 3 === 2 ? i - 2 : i + 1]}`)
    expect(sides.size).toBe(mended.indices.length)
    for (const side of sides) expect(sides.has(side.split('>').reverse().join('>'))).toBe(true)
  })
})
