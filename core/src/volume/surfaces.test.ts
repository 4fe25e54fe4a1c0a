import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { ballBody, noise } from '../../test/bodies'
import { boxMesh } from '../../test/helpers'
import { checkMesh } from '../check/check'
import { PLAIN_ROW } from '../solid/labels'
import type { LabelledMesh } from './labelled'
import { reduced } from './reduce'
import { smoothedSurface } from './smooth-surface'
import { subdivided } from './subdivide'

const ROWS = [PLAIN_ROW, { ...PLAIN_ROW, letter: 1 }]
const meshOf = ({ positions, indices }: { positions: Float64Array; indices: Uint32Array }, labelOf: (t: number) => number = () => 0): LabelledMesh => ({
  positions,
  indices,
  label: Uint32Array.from({ length: indices.length / 3 }, (_, t) => labelOf(t)),
  rows: ROWS,
})

/** The largest of all dihedral angles, degrees. */
function sharpest({ positions: p, indices }: Pick<LabelledMesh, 'positions' | 'indices'>): number {
  const normals: number[][] = []
  const sides = new Map<string, number>()
  for (let t = 0; t < indices.length / 3; t++) {
    const [a, b, c] = [0, 1, 2].map((k) => [0, 1, 2].map((j) => p[3 * indices[3 * t + k] + j]))
    const [u, v] = [b, c].map((q) => q.map((x, j) => x - a[j]))
    const n = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]]
    normals.push(n.map((x) => x / Math.hypot(...n)))
    for (let k = 0; k < 3; k++) sides.set(`${indices[3 * t + k]}>${indices[3 * t + ((k + 1) % 3)]}`, t)
  }
  let most = 0
  for (const [side, t] of sides) {
    const other = sides.get(side.split('>').reverse().join('>')) as number
    const dot = normals[t].reduce((sum, x, k) => sum + x * normals[other][k], 0)
    most = Math.max(most, (Math.acos(Math.max(-1, Math.min(1, dot))) * 180) / Math.PI)
  }
  return most
}

/** How far places are from a radius: mean and most, mm. */
function off(p: ArrayLike<number>, radius: number): { mean: number; most: number } {
  const list = Array.from({ length: p.length / 3 }, (_, v) => Math.abs(Math.hypot(p[3 * v], p[3 * v + 1], p[3 * v + 2]) - radius))
  return { mean: list.reduce((sum, d) => sum + d, 0) / list.length, most: Math.max(...list) }
}

describe('subdividing', () => {
  it('makes four of each triangle, closed as before, of the same label', () => {
    const ball = meshOf(ballBody(10, 4), (t) => t % 2)
    for (const plain of [true, false]) {
      const fine = subdivided(ball, 180, plain)
      expect(fine.indices).toHaveLength(4 * ball.indices.length)
      expect(fine.positions).toHaveLength(ball.positions.length + (3 * ball.indices.length) / 2)
      expect([...fine.label]).toEqual([...ball.label].flatMap((l) => [l, l, l, l]))
      expect(checkMesh(fine).findings).toEqual([])
    }
  })

  it('that is plain leaves the shape as it is', () => {
    const ball = meshOf(ballBody(10, 4))
    const [before, after] = [ball, subdivided(subdivided(ball, 0, true), 0, true)].map((one) => checkMesh(one))
    expect(after.volume).toBeCloseTo(before.volume, 9)
    expect(after.area).toBeCloseTo(before.area, 9)
  })

  it('makes a coarse ball rounder each time, and leaves a box with creases a box', () => {
    let mesh = meshOf(ballBody(10, 2))
    let last = sharpest(mesh)
    for (let i = 0; i < 3; i++) {
      mesh = subdivided(mesh, 180, false)
      const now = sharpest(mesh)
      expect(now).toBeLessThan(0.7 * last)
      last = now
    }
    const box = meshOf(boxMesh(0, 0, 0, 4, 5, 6))
    const creased = checkMesh(subdivided(subdivided(box, 30, false), 30, false))
    expect(creased.volume).toBeCloseTo(120, 9)
    expect(creased.area).toBeCloseTo(148, 9)
    // without creases it becomes round: within its box, smaller
    const round = subdivided(subdivided(box, 180, false), 180, false)
    expect(checkMesh(round).volume).toBeLessThan(110)
    for (let v = 0; v < round.positions.length; v++) expect(round.positions[v]).toBeGreaterThanOrEqual(-1e-9)
  })

  it('keeps the line of a border between labels: what was in its plane stays there', () => {
    const ball = ballBody(10, 4)
    const level = (t: number) => [0, 1, 2].reduce((sum, k) => sum + ball.positions[3 * ball.indices[3 * t + k] + 2], 0)
    const mesh = meshOf(ball, (t) => (level(t) > 0 ? 1 : 0))
    const border = (of: LabelledMesh) => {
      const [one, other] = [0, 1].map((l) => new Set([...of.indices].filter((_, i) => of.label[Math.floor(i / 3)] === l)))
      return [...one].filter((v) => other.has(v))
    }
    for (const v of border(mesh)) expect(ball.positions[3 * v + 2]).toBeCloseTo(0, 6)
    const fine = subdivided(mesh, 180, false)
    const on = border(fine)
    expect(on).toHaveLength(2 * border(mesh).length)
    for (const v of on) expect(fine.positions[3 * v + 2]).toBeCloseTo(0, 6)
  })
})

describe('smoothing', () => {
  const rough = (seed: number, height: number) => {
    const draw = noise(seed)
    return ballBody(10, 10, () => height * draw())
  }

  it('takes roughness away and keeps the size, by either weights; the triangles stay', () => {
    fc.assert(
      fc.property(fc.nat(1000), fc.constantFrom('even' as const, 'cotangent' as const), (seed, weights) => {
        const mesh = meshOf(rough(seed, 0.3))
        const p = smoothedSurface(mesh, 12, 180, weights)
        expect(off(p, 10).mean).toBeLessThan(0.6 * off(mesh.positions, 10).mean)
        const [before, after] = [checkMesh(mesh).volume, checkMesh({ positions: p, indices: mesh.indices }).volume]
        expect(Math.abs(after / before - 1)).toBeLessThan(0.02)
        expect(mesh.positions).not.toBe(p)
      }),
      { numRuns: 12 },
    )
  })

  it('by no rounds changes nothing, and leaves a box with creases as it is, however many', () => {
    const ball = meshOf(rough(1, 0.3))
    expect([...smoothedSurface(ball, 0, 30, 'even')]).toEqual([...ball.positions])
    const box = meshOf(boxMesh(0, 0, 0, 4, 5, 6))
    expect([...smoothedSurface(box, 20, 30, 'even')]).toEqual([...box.positions])
    // the middles of faces and edges slide within them at most
    const fine = subdivided(subdivided(box, 30, true), 30, true)
    const p = smoothedSurface(fine, 10, 30, 'even')
    const check = checkMesh({ positions: p, indices: fine.indices })
    expect(check.volume).toBeCloseTo(120, 6)
    expect(check.area).toBeCloseTo(148, 6)
  })
})

describe('reducing', () => {
  it('comes to the number asked or just below, within the error it tells, closed as before', async () => {
    const ball = meshOf(ballBody(10, 20))
    for (const triangles of [2000, 600, 120]) {
      const { mesh, error } = await reduced(ball, { triangles })
      const count = mesh.indices.length / 3
      expect(count).toBeLessThanOrEqual(triangles)
      expect(count).toBeGreaterThan(0.9 * triangles)
      expect(checkMesh(mesh).findings.filter(({ code }) => code !== 'crossing')).toEqual([])
      // what is left stands where it stood
      const places = new Set(Array.from({ length: ball.positions.length / 3 }, (_, v) => ball.positions.subarray(3 * v, 3 * v + 3).join()))
      for (let v = 0; v < mesh.positions.length; v += 3) expect(places.has(mesh.positions.subarray(v, v + 3).join())).toBe(true)
      // the middle of a triangle lies as far within the ball as the error says, or about
      const { positions: p, indices } = mesh
      let deepest = 0
      for (let t = 0; t < indices.length; t += 3) {
        const middle = [0, 1, 2].map((k) => (p[3 * indices[t] + k] + p[3 * indices[t + 1] + k] + p[3 * indices[t + 2] + k]) / 3)
        deepest = Math.max(deepest, 10 - Math.hypot(...middle))
      }
      expect(error).toBeGreaterThan(0)
      expect(deepest).toBeLessThan(4 * error + 0.1)
    }
  })

  it('takes all it can within an error: a fine box becomes twelve triangles, a ball stays a ball', async () => {
    const box = subdivided(subdivided(subdivided(meshOf(boxMesh(0, 0, 0, 4, 5, 6)), 30, true), 30, true), 30, true)
    const { mesh } = await reduced(box, { triangles: 4, error: 0.01 })
    expect(mesh.indices.length / 3).toBe(12)
    expect(checkMesh(mesh).volume).toBeCloseTo(120, 6)
    const round = await reduced(meshOf(ballBody(10, 20)), { triangles: 0, error: 0.2 })
    expect(checkMesh(round.mesh).volume).toBeGreaterThan(0.9 * checkMesh(ballBody(10, 20)).volume)
    expect(round.error).toBeLessThanOrEqual(0.2 + 1e-6)
  })

  it('keeps borders between labels, each with area of its own', async () => {
    const ball = ballBody(10, 16)
    const half = (t: number) => ([0, 1, 2].reduce((sum, k) => sum + ball.positions[3 * ball.indices[3 * t + k]], 0) > 0 ? 1 : 0)
    const { mesh } = await reduced(meshOf(ball, half), { triangles: 300 })
    const { positions: p, indices, label } = mesh
    let [left, right] = [0, 0]
    for (let t = 0; t < label.length; t++) {
      const x = [0, 1, 2].reduce((sum, k) => sum + p[3 * indices[3 * t + k]], 0) / 3
      expect(label[t]).toBe(x > 0 ? 1 : 0)
      if (label[t]) right++
      else left++
    }
    expect(left).toBeGreaterThan(60)
    expect(right).toBeGreaterThan(60)
  })
})
