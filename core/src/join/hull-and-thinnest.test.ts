import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { ballBody, plainSolid } from '../../test/bodies'
import { assets, boxMesh, together, wordRoute } from '../../test/helpers'
import { checkMesh } from '../check/check'
import { evaluateRoute } from '../evaluate/route'
import { loadManifold } from '../kernel/manifold'
import { triangleCount } from '../solid/solid'
import { triangulateLoops } from '../solid/edge-surface'
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

/** A bar of a section, counterclockwise as seen from its front, so long. */
function bar(section: readonly (readonly number[])[], long: number) {
  const n = section.length
  const x = section.map(([at]) => at)
  const y = section.map(([, at]) => at)
  const faces = triangulateLoops([[...section.keys()]], x, y)
  const positions = Float64Array.from([0, long].flatMap((z) => section.flatMap(([x, y]) => [x, y, z])))
  const sides = section.flatMap((_, i) => {
    const j = (i + 1) % n
    return [i, j, n + j, i, n + j, n + i]
  })
  const caps = faces.map((_, i) => faces[i - (i % 3) + ((3 - (i % 3)) % 3)]).concat(faces.map((v) => n + v))
  return { positions, indices: Uint32Array.from([...sides, ...caps]) }
}

describe('the thinnest wall', () => {
  it('of a box is its least side, and stands on a side there', () => {
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

  it('of a bar is that at its back where its sides run out in an edge, however finely they are divided', () => {
    fc.assert(
      fc.property(number(35, 55), fc.integer({ min: 1, max: 60 }), (angle, times) => {
        // a wedge, 20 mm from its edge to its back
        const high = 20 * Math.tan((angle * Math.PI) / 180)
        const along = Array.from({ length: times }, (_, i) => (i + 1) / times)
        const found = thinnestWall(bar([[0, 0], ...along.map((s) => [20 * s, 0]), ...along.toReversed().map((s) => [20 * s, high * s])], 200))
        expect(found?.thickness).toBeGreaterThan(0.8 * Math.min(high, 20))
        expect(found?.thickness).toBeLessThan(200)
      }),
      { numRuns: 40 },
    )
  })

  it('of a plate with a groove is what stands under it, and of a fin what it is', () => {
    fc.assert(
      fc.property(number(35, 55), number(0.5, 4), fc.integer({ min: 8, max: 40 }), (half, under, times) => {
        // the groove's sides come down to so much above the back
        const wide = (10 - under) * Math.tan((half * Math.PI) / 180)
        const side = Array.from({ length: times }, (_, i) => i / times)
        const groove = [
          ...side.map((s) => [wide * (1 - s), under + (10 - under) * (1 - s)]),
          [0, under],
          ...side.toReversed().map((s) => [-wide * (1 - s), under + (10 - under) * (1 - s)]),
        ]
        const found = thinnestWall(bar([[-40, 0], [40, 0], [40, 10], ...groove, [-40, 10]], 60))
        expect(found?.thickness).toBeGreaterThan(0.99 * under)
        expect(found?.thickness).toBeLessThan(under + 2.5)
      }),
      { numRuns: 40 },
    )
    const fin = bar(
      [
        [0, 0],
        [20, 0],
        [20, 1],
        [0, 0.6],
      ],
      20,
    )
    expect(thinnestWall(fin)?.thickness).toBeLessThan(1)
  })

  it('of a word is that of its hairlines, whatever ridges its edges close in and however it is divided', async () => {
    const thickness = async (form: Record<string, unknown>) => {
      const { value } = await evaluateRoute(wordRoute('Tern', 'abril-fatface', { size: 40 }, { depth: 13, ...form }), { assets })
      if (value?.kind !== 'solid') throw new Error('no word')
      return thinnestWall(value)?.thickness ?? Number.NaN
    }
    const plain = await thickness({})
    expect(plain).toBeGreaterThan(0.5)
    expect(plain).toBeLessThan(1)
    const edge = { profile: 'ogee', inset: 2.4, height: 3 }
    for (const form of [{ front: edge }, { front: edge, back: { profile: 'chamfer', inset: 0.8, height: 0.8 } }, { division: 'triangles', divisionEdge: 1 }])
      expect(Math.abs((await thickness(form)) / plain - 1)).toBeLessThan(0.1)
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
