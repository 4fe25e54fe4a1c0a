import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { ballBody, noise } from '../../test/bodies'
import { boxMesh } from '../../test/helpers'
import { checkMesh } from '../check/check'
import { PLAIN_ROW } from '../solid/labels'
import { toTriangle } from '../solid/nearest'
import { evenlyRemeshed } from './even-remesh'
import type { LabelledMesh } from './labelled'
import { subdivided } from './subdivide'

const ROWS = Array.from({ length: 6 }, (_, letter) => ({ ...PLAIN_ROW, letter }))
const meshOf = ({ positions, indices }: { positions: Float64Array; indices: Uint32Array }, labelOf: (t: number) => number = () => 0): LabelledMesh => ({
  positions,
  indices,
  label: Uint32Array.from({ length: indices.length / 3 }, (_, t) => labelOf(t)),
  rows: ROWS,
})
const even = (mesh: LabelledMesh, edge: number, angle = 25, options = {}) => evenlyRemeshed(mesh, edge, angle, async () => {}, options)

const cornersOf = ({ positions: p, indices }: LabelledMesh, t: number) =>
  [0, 1, 2].map((k) => [...p.subarray(3 * indices[3 * t + k], 3 * indices[3 * t + k] + 3)])

function sidesOf(mesh: LabelledMesh): number[] {
  return Array.from({ length: mesh.indices.length / 3 }, (_, t) => cornersOf(mesh, t)).flatMap((at) =>
    at.map((p, k) => Math.hypot(...p.map((x, j) => x - at[(k + 1) % 3][j]))),
  )
}

/** How far a place lies from a mesh, by looking at each of its triangles. */
function offBy({ positions: q, indices }: LabelledMesh, [x, y, z]: ArrayLike<number> & Iterable<number>): number {
  let least = Infinity
  for (let t = 0; t < indices.length; t += 3) least = Math.min(least, toTriangle(x, y, z, q, 3 * indices[t], 3 * indices[t + 1], 3 * indices[t + 2]))
  return Math.sqrt(least)
}

/** The area that each label covers, mm². */
function areas(mesh: LabelledMesh): number[] {
  const out = ROWS.map(() => 0)
  mesh.label.forEach((l, t) => {
    const [a, b, c] = cornersOf(mesh, t)
    const [u, v] = [b, c].map((p) => p.map((x, k) => x - a[k]))
    out[l] += Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]) / 2
  })
  return out
}

describe('triangles of one size', () => {
  it('keep boxes as they are, thin or long, to the last bit of rounding: volume, area of each label, corners', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.double({ min: 0.02, max: 20, noNaN: true }),
        fc.double({ min: 0.02, max: 20, noNaN: true }),
        fc.constantFrom(0.7, 2, 6),
        async (y, z, edge) => {
          const box = meshOf(boxMesh(0, 0, 0, 20, y, z), (t) => Math.floor(t / 2))
          const made = await even(box, edge)
          const report = checkMesh(made)
          expect(report.findings).toEqual([])
          expect(report.volume).toBeCloseTo(20 * y * z, 8)
          areas(box).forEach((area, l) => expect(areas(made)[l]).toBeCloseTo(area, 8))
          const places = new Set(Array.from({ length: made.positions.length / 3 }, (_, v) => made.positions.subarray(3 * v, 3 * v + 3).join()))
          for (let v = 0; v < 8; v++) expect(places.has(box.positions.subarray(3 * v, 3 * v + 3).join())).toBe(true)
        },
      ),
      { numRuns: 40 },
    )
  })

  it('are even on flats and on what is round: nearly all sides between four fifths and four thirds of the length, and no slivers', async () => {
    const draw = noise(3)
    for (const [mesh, edge] of [
      [meshOf(boxMesh(0, 0, 0, 30, 20, 10)), 1],
      [meshOf(ballBody(10, 14)), 1],
      // finer than what is made of it, and lumpy
      [meshOf(ballBody(10, 60, () => 0.01 * draw())), 1.5],
    ] as const) {
      const made = await even(mesh, edge, 60)
      expect(checkMesh(made).findings).toEqual([])
      const sides = sidesOf(made)
      expect(sides.filter((s) => s > 0.8 * edge && s < 1.34 * edge).length).toBeGreaterThan(0.88 * sides.length)
      expect(Math.max(...sides)).toBeLessThan(2.2 * edge)
      let slivers = 0
      for (let i = 0; i < sides.length; i += 3) {
        const [a, b, c] = sides.slice(i, i + 3).sort((u, v) => u - v)
        if (Math.acos((b * b + c * c - a * a) / (2 * b * c)) < Math.PI / 9) slivers++
      }
      expect(slivers).toBeLessThan(0.01 * (sides.length / 3))
    }
  })

  it('lie on the very surface, whatever way they came there', async () => {
    const draw = noise(8)
    for (const [mesh, edge] of [
      [meshOf(ballBody(10, 12)), 0.8],
      [meshOf(ballBody(10, 12, () => 0.5 * draw())), 1.5],
      [meshOf(ballBody(10, 30)), 3],
    ] as const) {
      const made = await even(mesh, edge, 180)
      expect(checkMesh(made).findings).toEqual([])
      for (let v = 0; v < made.positions.length; v += 3 * Math.ceil(made.positions.length / 900))
        expect(offBy(mesh, made.positions.subarray(v, v + 3))).toBeLessThan(1e-9)
    }
  })

  it('come out the same, in whichever order the triangles come in, but for which of equals is first', async () => {
    const box = meshOf(boxMesh(0, 0, 0, 20, 14, 3))
    const turned = meshOf({
      positions: box.positions,
      indices: Uint32Array.from(
        Array.from({ length: 12 }, (_, t) => [...box.indices.subarray(3 * t, 3 * t + 3)])
          .reverse()
          .flat(),
      ),
    })
    const [one, other] = [await even(box, 1), await even(turned, 1)]
    expect(Math.abs(one.indices.length / other.indices.length - 1)).toBeLessThan(0.05)
    // and from the same the very same
    expect(await even(box, 1)).toEqual(one)
  })

  it('stay as they are where they are to be kept, however long, and are even elsewhere', async () => {
    for (const edge of [0.5, 1.2]) {
      const ball = meshOf(ballBody(10, 6))
      const isHigh = (t: number) => cornersOf(ball, t).every(([, , z]) => z > 4)
      const kept = Uint8Array.from({ length: ball.indices.length / 3 }, (_, t) => (isHigh(t) ? 1 : 0))
      const made = await even(ball, edge, 60, { kept })
      expect(checkMesh(made).findings).toEqual([])
      const keyOf = (of: LabelledMesh, t: number) => {
        const at = cornersOf(of, t).map((p) => p.join())
        const first = at.indexOf([...at].sort()[0])
        return [0, 1, 2].map((k) => at[(first + k) % 3]).join(' ')
      }
      const have = new Set(Array.from({ length: made.indices.length / 3 }, (_, t) => keyOf(made, t)))
      kept.forEach((is, t) => {
        if (is) expect(have.has(keyOf(ball, t))).toBe(true)
      })
      const far = sidesOf(made).filter((_, i) => made.positions[3 * made.indices[i] + 2] < 0)
      expect(Math.max(...far)).toBeLessThan(2.2 * edge)
      expect(made.indices.length).toBeGreaterThan(2 * ball.indices.length)
    }
  })

  it('end, with sides as long as is said, however these change from place to place and however thin the triangles are', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.constantFrom(0.3, 0.5, 1, 4), { minLength: 12, maxLength: 12 }),
        fc.constantFrom(0.004, 0.3, 5),
        fc.nat(2),
        async (list, thin, times) => {
          let box = meshOf(boxMesh(0, 0, 0, 9, 6, thin))
          for (let n = 0; n < times; n++) box = subdivided(box, 20, true)
          const lengths = Float32Array.from({ length: box.indices.length / 3 }, (_, t) => list[t % list.length])
          const made = await even(box, 4, 25, { lengths })
          const report = checkMesh(made)
          expect(report.findings).toEqual([])
          expect(report.volume).toBeCloseTo(9 * 6 * thin, 8)
          expect(report.triangles).toBeLessThan(20_000)
        },
      ),
      { numRuns: 25 },
    )
  })

  it('are not made of what is open', async () => {
    const box = boxMesh(0, 0, 0, 2, 3, 4)
    await expect(even(meshOf({ ...box, indices: box.indices.subarray(3) }), 1)).rejects.toThrow(RangeError)
  })
})
