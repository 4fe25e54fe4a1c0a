import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { crossingPairs } from './crossings'
import { oppositesOf } from './edges'
import { terrainNodes } from './terrain'
import { type BoxTree, buildBoxTree, lastNode } from './tree'
import { planesOf, trianglesCross } from './triangles'

interface Mesh {
  readonly positions: Float64Array
  readonly indices: Uint32Array
}

/** A grid of `along` × `across` squares, each vertex put at a place, and turned so that x, y and z come in another order. */
function sheet(along: number, across: number, at: (i: number, j: number) => readonly [number, number, number], turn = 0): Mesh {
  const positions = new Float64Array(3 * (along + 1) * (across + 1))
  const indices: number[] = []
  for (let i = 0; i <= along; i++)
    for (let j = 0; j <= across; j++) {
      const place = at(i, j)
      for (let k = 0; k < 3; k++) positions[3 * (i * (across + 1) + j) + ((k + turn) % 3)] = place[k]
      if (i === along || j === across) continue
      const [a, b, c, d] = [i * (across + 1) + j, (i + 1) * (across + 1) + j, (i + 1) * (across + 1) + j + 1, i * (across + 1) + j + 1]
      indices.push(a, b, c, a, c, d)
    }
  return { positions, indices: Uint32Array.from(indices) }
}

/** The triangles of each node that is a terrain. */
function terrains({ positions, indices }: Mesh): number[][] {
  const tree = buildBoxTree(positions, indices, { flatsApart: true })
  const flags = terrainNodes(tree, positions, indices, planesOf(positions, indices), oppositesOf(indices))
  return [...flags.keys()].filter((node) => flags[node]).map((node) => trianglesOf(tree, node))
}

function trianglesOf(tree: BoxTree, node: number): number[] {
  if (tree.count[node] > 0) return [...tree.order.subarray(tree.first[node], tree.first[node] + tree.count[node])]
  return [...trianglesOf(tree, node + 1), ...trianglesOf(tree, tree.right[node])]
}

/** Pairs in an order of their own. */
const named = (pairs: readonly (readonly number[])[]) => pairs.map(([s, t]) => `${Math.min(s, t)}-${Math.max(s, t)}`).sort()

/** All pairs that cross, each tried exactly. */
function crossing({ positions, indices }: Mesh): [number, number][] {
  const out: [number, number][] = []
  for (let s = 0; 3 * s < indices.length; s++) for (let t = s + 1; 3 * t < indices.length; t++) if (trianglesCross(positions, indices, s, t)) out.push([s, t])
  return out
}

/** That none within a terrain cross, and that crossings are found as one by one. Gives how many triangles are in terrains, and how many pairs cross. */
function held(mesh: Mesh): [number, number] {
  const exact = crossing(mesh)
  const found = terrains(mesh)
  for (const list of found) {
    const own = new Set(list)
    expect(exact.filter(([s, t]) => own.has(s) && own.has(t))).toEqual([])
  }
  expect(named(crossingPairs(mesh.positions, mesh.indices, Infinity))).toEqual(named(exact))
  return [found.flat().length, exact.length]
}

describe('terrains', () => {
  it('are found whole, whichever way they face', () => {
    for (const turn of [0, 1, 2])
      for (const side of [1, -1]) {
        const mesh = sheet(20, 20, (i, j) => [i, side * j, Math.sin(i / 3) * Math.cos(j / 2)], turn)
        expect(terrains(mesh).map((list) => list.length)).toEqual([800])
      }
  })

  it('have holes, and are of several pieces', () => {
    const flat = sheet(16, 16, (i, j) => [i, j, (i * j) / 50])
    const without = (left: (i: number, j: number) => boolean) => ({
      positions: flat.positions,
      indices: flat.indices.filter((_, n) => left(Math.floor(n / 96), Math.floor(n / 6) % 16)),
    })
    expect(terrains(without((i, j) => i < 4 || i > 6 || j < 4 || j > 6)).map((list) => list.length)).toEqual([2 * (256 - 9)])
    expect(terrains(without((i) => i !== 8)).map((list) => list.length)).toEqual([480])
    // a small one in the hole of another one
    expect(terrains(without((i, j) => Math.max(Math.abs(i - 8), Math.abs(j - 8)) !== 4)).map((list) => list.length)).toEqual([2 * (256 - 32)])
  })

  it('are no ramps that go round more than once, and no sheets that lie over each other', () => {
    const ramp = (turns: number) =>
      sheet(48, 3, (i, j) => {
        const angle = (2 * Math.PI * turns * i) / 48
        return [(2 + j) * Math.cos(angle), -(2 + j) * Math.sin(angle), i / 200]
      })
    expect(terrains(ramp(0.9)).map((list) => list.length)).toEqual([288])
    expect(Math.max(...terrains(ramp(1.5)).map((list) => list.length))).toBeLessThan(200)
    const one = sheet(6, 6, (i, j) => [i, j, 0.05 * i])
    const two = sheet(4, 4, (i, j) => [1.1 + i, 1.1 + j, 0.1 + 0.07 * i])
    const both = {
      positions: Float64Array.from([...one.positions, ...two.positions]),
      indices: Uint32Array.from([...one.indices, ...two.indices.map((v) => v + one.positions.length / 3)]),
    }
    expect(terrains(both).some((list) => list.length === 104)).toBe(false)
    held(both)
  })

  it('are no fans that end over the side they begin at', () => {
    const ring = (i: number, far: number): [number, number, number] => [[1, 0, -1, 0][i % 4] * far, [0, 1, 0, -1][i % 4] * far, i / 9]
    const fan = (last: [number, number, number]) => ({
      positions: Float64Array.from([0, 0, 0, ...[0, 1, 2, 3].flatMap((i) => ring(i, 1)), ...last]),
      indices: Uint32Array.from([1, 2, 3, 4].flatMap((i) => [0, i, i + 1])),
    })
    expect(terrains(fan([3, -1, 0.5])).map((list) => list.length)).toEqual([4])
    expect(terrains(fan(ring(4, 2)))).toEqual([])
    expect(terrains(fan([3, 1, 0.5]))).toEqual([])
  })

  it('give pairs that cross in the order in which they lie, however triangles are numbered', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -6, max: 6 }), { minLength: 27, maxLength: 27 }), fc.integer(), (moved, seed) => {
        const mesh = sheet(2, 2, (i, j) => [4 * i + moved[9 * i + 3 * j], 4 * j + moved[9 * i + 3 * j + 1], moved[9 * i + 3 * j + 2]])
        const count = mesh.indices.length / 3
        const order = [...Array(count).keys()].sort((a, b) => Math.sin(seed + a) - Math.sin(seed + b))
        const other = { positions: mesh.positions, indices: Uint32Array.from(order.flatMap((t) => [...mesh.indices.subarray(3 * t, 3 * t + 3)])) }
        const middles = [...Array(count).keys()].map((t) =>
          [0, 1, 2].map((k) => [0, 1, 2].reduce((sum, c) => sum + mesh.positions[3 * mesh.indices[3 * t + c] + k], 0)).join(' '),
        )
        fc.pre(new Set(middles).size === count)
        const pairs = crossingPairs(other.positions, other.indices, Infinity).map(([s, t]) => [order[s], order[t]])
        expect(pairs).toEqual(crossingPairs(mesh.positions, mesh.indices, Infinity))
      }),
    )
  })

  it('hide no crossing: sheets with points moved at random, folded, and joined at points at random', () => {
    let [within, crossed] = [0, 0]
    fc.assert(
      fc.property(
        fc.array(fc.tuple(...[0, 1, 2].map(() => fc.integer({ min: -8, max: 8 }))), { minLength: 49, maxLength: 49 }),
        fc.constantFrom(0, 0.3, 2, 6),
        fc.constantFrom(0, 1, 3),
        fc.array(fc.tuple(fc.integer({ min: 0, max: 48 }), fc.integer({ min: 0, max: 48 })), { maxLength: 2 }),
        fc.integer({ min: 0, max: 2 }),
        (moved, wild, fold, joined, turn) => {
          // points on a lattice, so that some touch
          const mesh = sheet(
            6,
            6,
            (i, j) => {
              const [x, y, z] = moved[7 * i + j]
              const over = fold > 0 && i > fold ? 2 * fold - i : i
              return [8 * over + Math.round(wild * x), 8 * j + Math.round(wild * y), z + (over === i ? 0 : fold === 1 ? 6 : 24)]
            },
            turn,
          )
          for (const [v, w] of joined) mesh.indices.forEach((at, n) => at === v && (mesh.indices[n] = w))
          const three = (t: number) => new Set(mesh.indices.subarray(3 * t, 3 * t + 3)).size === 3
          const [some, pairs] = held({ ...mesh, indices: mesh.indices.filter((_, n) => three(Math.floor(n / 3))) })
          within += some
          crossed += pairs > 0 ? 1 : 0
        },
      ),
      { numRuns: 400 },
    )
    expect(within).toBeGreaterThan(5000)
    expect(crossed).toBeGreaterThan(100)
  })
})

describe('the tree', () => {
  it('parts many that lie close together, though one lies far away', () => {
    const near = sheet(60, 60, (i, j) => [i, j, 0.01 * i * j])
    const positions = Float64Array.from([...near.positions, 1e7, 0, 0, 1e7, 1, 0, 1e7, 1, 1])
    const last = near.positions.length / 3
    const tree = buildBoxTree(positions, [...near.indices, last, last + 1, last + 2])
    const depth = (node: number): number => (tree.count[node] > 0 ? 1 : 1 + Math.max(depth(node + 1), depth(tree.right[node])))
    expect(depth(0)).toBeLessThan(40)
    for (let node = 0; node <= lastNode(tree.count, tree.right); node++) {
      if (tree.count[node] < 2) continue
      expect(tree.count[node]).toBeLessThanOrEqual(4)
      expect(tree.boxes[6 * node + 3] - tree.boxes[6 * node]).toBeLessThan(10)
    }
    // and all of one place
    const heap = buildBoxTree(
      positions.slice(0, 9),
      Uint32Array.from({ length: 3000 }, (_, i) => i % 3),
    )
    expect([...heap.order].sort((a, b) => a - b)).toEqual([...Array(1000).keys()])
    expect(Math.max(...heap.count)).toBeLessThanOrEqual(4)
  })
})
