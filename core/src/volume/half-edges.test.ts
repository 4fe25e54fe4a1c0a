import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { ballBody } from '../../test/bodies'
import { boxMesh } from '../../test/helpers'
import { checkMesh } from '../check/check'
import { PLAIN_ROW } from '../solid/labels'
import { creasesOf } from './creases'
import { after, before, HalfEdges } from './half-edges'

/** Of a mesh with a label for each triangle: its half-edges, creases where labels meet. */
function halvesOf({ positions, indices }: { positions: Float64Array; indices: Uint32Array }, labelOf: (t: number) => number = () => 0): HalfEdges {
  const label = Uint32Array.from({ length: indices.length / 3 }, (_, t) => labelOf(t))
  return new HalfEdges(indices, label, creasesOf({ positions, indices, label, rows: [PLAIN_ROW, PLAIN_ROW] }, 180), positions.length / 3)
}

/** What must always hold, looked at from every half-edge that is left. */
function expectWhole(mesh: HalfEdges): void {
  const { start, twin, crease, out } = mesh
  const corners = new Map<number, number[]>()
  for (let h = 0; h < 4 * mesh.triangles; h++) {
    if ((h & 3) === 3 || start[h] < 0) continue
    const g = twin[h]
    expect(twin[g]).toBe(h)
    expect([start[g], start[after(g)]]).toEqual([start[after(h)], start[h]])
    expect(crease[g]).toBe(crease[h])
    expect(before(after(h))).toBe(h)
    // labels differ across creases alone
    if (!crease[h]) expect(start[h | 3]).toBe(start[g | 3])
    corners.set(start[h], [...(corners.get(start[h]) ?? []), h])
  }
  for (const [v, all] of corners) {
    const round: number[] = []
    let h = out[v]
    do {
      round.push(h)
      h = twin[before(h)]
    } while (h !== out[v] && round.length <= all.length)
    expect(round.sort((a, b) => a - b)).toEqual(all)
  }
}

/** The mesh as it is, tidied, for the checker. */
function checked(mesh: HalfEdges, positions: readonly (readonly number[])[]) {
  const old = mesh.tidy()
  return checkMesh({ positions: Float64Array.from([...old].flatMap((v) => positions[v])), indices: mesh.mesh().indices }, { deep: false })
}

const placesOf = (p: Float64Array) => Array.from({ length: p.length / 3 }, (_, v) => [p[3 * v], p[3 * v + 1], p[3 * v + 2]])

describe('half-edges', () => {
  it('stay whole whatever is split, turned and taken out, as does the surface', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.constantFrom('split', 'flip', 'collapse'), fc.nat()), { minLength: 1, maxLength: 60 }),
        fc.boolean(),
        (steps, labels) => {
          const ball = ballBody(10, 3)
          const places = placesOf(ball.positions)
          const mesh = halvesOf(ball, labels ? (t) => t % 2 : undefined)
          for (const [what, at] of steps) {
            const alive = Array.from({ length: 4 * mesh.triangles }, (_, h) => h).filter((h) => (h & 3) !== 3 && mesh.start[h] >= 0)
            const h = alive[at % alive.length]
            const [a, b] = [mesh.start[h], mesh.start[after(h)]]
            const [c, d] = [mesh.start[before(h)], mesh.start[before(mesh.twin[h])]]
            const about = (v: number) => new Set(alive.filter((g) => mesh.start[g] === v).map((g) => mesh.start[after(g)]))
            if (what === 'split') {
              mesh.room(1)
              const v = mesh.split(h)
              places[v] = places[a].map((x, k) => (x + places[b][k]) / 2)
              for (const w of [a, b, c, d]) expect(mesh.joined(v, w)).toBe(true)
              expect(mesh.joined(a, b)).toBe(false)
            } else if (what === 'flip') {
              expect(mesh.joined(c, d)).toBe(about(c).has(d))
              if (mesh.crease[h] || c === d || mesh.joined(c, d) || about(a).size < 4 || about(b).size < 4) continue
              mesh.flip(h)
              expect(mesh.joined(c, d)).toBe(true)
              expect(mesh.joined(a, b)).toBe(false)
            } else {
              // what the link condition says, and that no two sheets come to lie back to back
              if ([...about(a)].filter((v) => about(b).has(v)).length !== 2 || mesh.folds(h)) continue
              mesh.collapse(h)
              expect(mesh.out[b]).toBe(-1)
            }
          }
          expectWhole(mesh)
          const report = checked(mesh, places)
          expect(report.findings.filter(({ code }) => code !== 'inside-out')).toEqual([])
          // still a ball: V − E + F = 2
          expect(report.vertices - report.triangles / 2).toBe(2)
          expectWhole(mesh)
        },
      ),
      { numRuns: 60 },
    )
  })

  it('cut a side in its middle without moving anything, and keep its label and crease on both halves', () => {
    const box = boxMesh(0, 0, 0, 3, 4, 5)
    const places = placesOf(box.positions)
    const mesh = halvesOf(box, (t) => (t < 6 ? 0 : 1))
    for (let h = 0; h < 48; h++) {
      if ((h & 3) === 3) continue
      const [a, b] = [mesh.start[h], mesh.start[after(h)]]
      const crease = mesh.crease[h]
      mesh.room(1)
      places[mesh.split(h)] = places[a].map((x, k) => (x + places[b][k]) / 2)
      expect(mesh.crease[h]).toBe(crease)
      expect(mesh.crease[mesh.twin[h]]).toBe(crease)
    }
    expectWhole(mesh)
    const areas = [0, 0]
    const report = checked(mesh, places)
    expect(report.volume).toBeCloseTo(60, 9)
    expect(report.area).toBeCloseTo(94, 9)
    const { label } = mesh.mesh()
    for (const l of label) areas[l]++
    expect(areas[0] + areas[1]).toBe(report.triangles)
    expect(Math.min(...areas)).toBeGreaterThan(6)
  })

  it('are not made of what is open, and give each fan of triangles a vertex of its own', () => {
    const box = boxMesh(0, 0, 0, 1, 1, 1)
    expect(() => halvesOf({ ...box, indices: box.indices.subarray(3) })).toThrow(RangeError)
    // two boxes that have one corner between them
    const other = boxMesh(1, 1, 1, 2, 2, 2)
    const at = placesOf(box.positions).findIndex((p) => p.join() === '1,1,1')
    const same = placesOf(other.positions).findIndex((p) => p.join() === '1,1,1')
    const both = {
      positions: Float64Array.from([...box.positions, ...other.positions]),
      indices: Uint32Array.from([...box.indices, ...other.indices.map((v) => (v === same ? at : v + 8))]),
    }
    const mesh = halvesOf(both)
    expect(mesh.doubled).toEqual([at])
    expect(mesh.vertices).toBe(17)
    expectWhole(mesh)
  })

  it('come in an order in which neighbours lie near each other once tidied', () => {
    const ball = ballBody(10, 24)
    const triangles = ball.indices.length / 3
    // in an order far from that: every 97th
    const order = Array.from({ length: triangles }, (_, t) => (t * 97) % triangles)
    expect(new Set(order).size).toBe(triangles)
    const mesh = halvesOf({ positions: ball.positions, indices: Uint32Array.from(order.flatMap((t) => [...ball.indices.subarray(3 * t, 3 * t + 3)])) })
    const apart = () => {
      let sum = 0
      for (let h = 0; h < 4 * mesh.triangles; h++) if ((h & 3) !== 3) sum += Math.abs((mesh.twin[h] >> 2) - (h >> 2))
      return sum / (3 * mesh.triangles)
    }
    const was = apart()
    const places = placesOf(ball.positions)
    const report = checked(mesh, places)
    expect(report.volume).toBeCloseTo(checkMesh(ball).volume, 9)
    expect(apart()).toBeLessThan(0.2 * was)
  })
})
