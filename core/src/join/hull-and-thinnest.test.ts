import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { ballBody, plainSolid } from '../../test/bodies'
import { boxMesh, together } from '../../test/helpers'
import { checkMesh } from '../check/check'
import { loadManifold } from '../kernel/manifold'
import { triangleCount } from '../solid/solid'
import { hullOf } from './hull'
import { thinnestFloor, thinnestWall } from './thinnest'

beforeAll(async () => void (await loadManifold()))

const L = 2 ** -14
const number = (min: number, max: number) => fc.double({ min, max, noNaN: true })
const point = fc.tuple(number(-20, 20), number(-20, 20), number(-20, 20))

describe('a convex hull', () => {
  it('holds all its points, bends inwards nowhere, and has no corner that is none of them', () => {
    fc.assert(
      fc.property(fc.array(point, { minLength: 6, maxLength: 40 }), (points) => {
        const hull = hullOf(points, L)
        fc.pre(triangleCount(hull) > 0 && checkMesh(hull).volume > 1)
        const { positions: p, indices } = hull
        expect(checkMesh(hull).findings).toEqual([])
        for (let t = 0; t < indices.length; t += 3) {
          const [a, b, c] = [0, 1, 2].map((k) => [0, 1, 2].map((j) => p[3 * indices[t + k] + j]))
          const [u, v] = [b, c].map((q) => q.map((x, j) => x - a[j]))
          const n = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]]
          const size = Math.hypot(...n)
          // slivers say nothing of where they look
          if (size < 1e-2) continue
          for (const q of points) expect(n.reduce((sum, x, j) => sum + x * (q[j] - a[j]), 0) / size).toBeLessThan(2e-3)
        }
        for (let v = 0; v < p.length; v += 3)
          expect(Math.min(...points.map((q) => Math.hypot(q[0] - p[v], q[1] - p[v + 1], q[2] - p[v + 2])))).toBeLessThan(2e-3)
      }),
      { numRuns: 40 },
    )
  })

  it('of a box’s corners and anything within is the box; of points in a plane it is nothing', () => {
    const corners = [0, 1, 2, 3, 4, 5, 6, 7].map((i): [number, number, number] => [4 * (i & 1), 5 * ((i >> 1) & 1), 6 * (i >> 2)])
    const inner = fc.tuple(number(0, 4), number(0, 5), number(0, 6))
    fc.assert(
      fc.property(fc.array(inner, { maxLength: 20 }), (within) => {
        const { volume, area } = checkMesh(hullOf([...corners, ...within], L))
        expect(volume).toBeCloseTo(120, 2)
        expect(area).toBeCloseTo(2 * (20 + 30 + 24), 2)
      }),
      { numRuns: 30 },
    )
    expect(triangleCount(hullOf([...corners.slice(0, 4)], L))).toBe(0)
    expect(triangleCount(hullOf([], L))).toBe(0)
  })
})

describe('the thinnest wall', () => {
  it('of a box is its least side, and stands in the middle of a triangle there', () => {
    fc.assert(
      fc.property(number(0.5, 30), number(0.5, 30), number(0.5, 30), (w, h, d) => {
        const { positions, indices } = boxMesh(0, 0, 0, w, h, d)
        const found = thinnestWall({ positions, indices })
        expect(found?.thickness).toBeCloseTo(Math.min(w, h, d), 9)
        const least = [w, h, d].indexOf(Math.min(w, h, d))
        const at = found?.place[least] ?? Number.NaN
        expect(Math.min(at, [w, h, d][least] - at)).toBeCloseTo(0, 9)
      }),
      { numRuns: 60 },
    )
  })

  it('of a hollow is what is left beside it', () => {
    fc.assert(
      fc.property(number(0.3, 3), number(0.3, 3), number(0.3, 3), (x, y, z) => {
        const inner = boxMesh(x, y, z, 20 - x - 1, 20 - y - 1, 20 - z - 1)
        const body = together(boxMesh(0, 0, 0, 20, 20, 20), { ...inner, indices: inner.indices.toReversed() })
        expect(thinnestWall(body)?.thickness).toBeCloseTo(Math.min(x, y, z), 9)
      }),
      { numRuns: 40 },
    )
  })

  it('of a ball is nearly its width, and of nothing there is none', () => {
    const found = thinnestWall(ballBody(10, 12))
    expect(found?.thickness).toBeGreaterThan(19)
    expect(found?.thickness).toBeLessThan(20)
    expect(thinnestWall({ positions: new Float64Array(0), indices: new Uint32Array(0) })).toBeUndefined()
  })

  it('behind a floor is not asked where no floor was laid bare', () => {
    const { positions, indices } = boxMesh(0, 0, 0, 1, 1, 1)
    expect(thinnestFloor(plainSolid(positions, indices))).toBeUndefined()
  })
})
