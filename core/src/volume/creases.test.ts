import { describe, expect, it } from 'vitest'
import { ballBody } from '../../test/bodies'
import { boxMesh } from '../../test/helpers'
import { creasesOf } from './creases'
import type { LabelledMesh } from './labelled'

const meshOf = (mesh: { positions: Float64Array; indices: Uint32Array }, labelOf: (t: number) => number = () => 0) =>
  ({ ...mesh, label: Uint32Array.from({ length: mesh.indices.length / 3 }, (_, t) => labelOf(t)) }) as unknown as LabelledMesh

const next = (i: number) => (i % 3 === 2 ? i - 2 : i + 1)

describe('creases', () => {
  it('of a box are its twelve edges, and its corners stay where they are', () => {
    const box = boxMesh(0, 0, 0, 3, 4, 5)
    const { crease, along, across } = creasesOf(meshOf(box), 30)
    const edges = new Set<string>()
    box.indices.forEach((v, i) => {
      const w = box.indices[next(i)]
      const off = [0, 1, 2].filter((k) => box.positions[3 * v + k] !== box.positions[3 * w + k]).length
      // sides along an axis are edges, those across a face are not
      expect(crease[i]).toBe(off === 1 ? 1 : 0)
      if (crease[i]) edges.add([v, w].sort().join())
      // the corner across lies in the triangle on the other side
      const triangle = Math.floor(across[i] / 3)
      const own = [...box.indices.subarray(3 * triangle, 3 * triangle + 3)]
      expect(own).toContain(v)
      expect(own).toContain(w)
      expect([v, w]).not.toContain(box.indices[across[i]])
    })
    expect(edges.size).toBe(12)
    for (let v = 0; v < 8; v++) expect([along[2 * v], along[2 * v + 1]]).toEqual([v, v])
  })

  it('are none on a ball for a wide angle, and all of its sides for none', () => {
    const ball = ballBody(10, 6)
    const wide = creasesOf(meshOf(ball), 60)
    expect([...wide.crease].every((c) => c === 0)).toBe(true)
    expect([...wide.along].every((v) => v === -1)).toBe(true)
    const narrow = creasesOf(meshOf(ball), 0.01)
    expect([...narrow.crease].filter((c) => c === 1).length).toBeGreaterThan(0.9 * ball.indices.length)
  })

  it('run along borders between labels: each place on a border knows its two neighbours on it', () => {
    const ball = ballBody(10, 8)
    const half = (t: number) =>
      ball.positions[3 * ball.indices[3 * t] + 2] + ball.positions[3 * ball.indices[3 * t + 1] + 2] + ball.positions[3 * ball.indices[3 * t + 2] + 2] > 0
        ? 1
        : 0
    const { along, crease } = creasesOf(meshOf(ball, half), 80)
    const on = [...new Set(ball.indices.filter((_, i) => crease[i] === 1))]
    expect(on.length).toBeGreaterThan(16)
    // going from neighbour to neighbour comes round to where it began, over all of them
    const start = on[0]
    let [before, at] = [start, along[2 * start]]
    const round = [start]
    while (at !== start && round.length <= on.length) {
      round.push(at)
      const [a, b] = [along[2 * at], along[2 * at + 1]]
      expect([a, b]).toContain(before)
      ;[before, at] = [at, a === before ? b : a]
    }
    expect(new Set(round)).toEqual(new Set(on))
    for (let v = 0; v < ball.positions.length / 3; v++) if (!on.includes(v)) expect(along[2 * v]).toBe(-1)
  })
})
