import { edgesOf, oppositesOf } from '../check/edges'
import { rayLength } from '../check/rays'
import { buildBoxTree } from '../check/tree'
import { type Solid, solidBounds } from '../solid/solid'

/** Box-shaped cells that fill a solid, each with eight corners that neighbours share, and the solid's skin hung in them. */
export interface CellLattice {
  /** x, y, z of the corners at rest, mm */
  readonly points: Float64Array
  /** eight corners a cell: bit 0 is the far one along x, bit 1 along y, bit 2 along z */
  readonly cells: Uint32Array
  /** where each cell stands in the grid, three numbers a cell */
  readonly places: Int32Array
  /** what share of each cell the solid fills */
  readonly filled: Float64Array
  /** the sides of a cell, mm */
  readonly size: readonly [number, number, number]
  /** the grid's corner, mm */
  readonly low: readonly [number, number, number]
  /** the cell that carries each vertex of the skin */
  readonly carrier: Uint32Array
}

/** A cell is looked into on so many finer places along each side. */
const FINER = 4
/** Columns are looked at a little beside the middle, where corners of letters are rarely: shares of a finer place. */
const ASIDE = [0.5131, 0.4877]

/**
 * Cells of about `cell` mm through a solid whose triangles are no larger than they. What is not connected within a cell gets cells of its own there: strokes that only come near each other are
 * not glued (after Nesme, Kry, Jeřábková & Faure, "Preserving topology and elasticity for embedded deformable models", 2009). Of each cell those parts are told by the places inside the solid, on a
 * grid four times finer, and by its triangles.
 */
export function cellLattice(skin: Pick<Solid, 'positions' | 'indices'>, cell: number): CellLattice {
  const { positions: p, indices } = skin
  const box = solidBounds(p)
  const n = [0, 1, 2].map((k) => Math.max(1, Math.round((box[k + 3] - box[k]) / cell)))
  const size = [0, 1, 2].map((k) => Math.max(1e-6, (box[k + 3] - box[k]) / n[k])) as [number, number, number]
  const low = [box[0], box[1], box[2]] as const
  const fine = n.map((count) => FINER * count)
  const inside = placesWithin(skin, low, size, fine)
  const placeOf = (i: number, j: number, k: number) => (k * fine[1] + j) * fine[0] + i
  const cellOf = (i: number, j: number, k: number) => (k * n[1] + j) * n[0] + i
  const cellAt = (x: number, y: number, z: number) => {
    const at = [x, y, z].map((v, a) => Math.min(n[a] - 1, Math.max(0, Math.floor((v - low[a]) / size[a]))))
    return cellOf(at[0], at[1], at[2])
  }
  const voxels = fine[0] * fine[1] * fine[2]
  const triangles = indices.length / 3
  const home = new Int32Array(voxels + triangles).fill(-1)
  const parent = Int32Array.from(home, (_, i) => i)
  const root = (i: number): number => {
    while (parent[i] !== i) i = parent[i] = parent[parent[i]]
    return i
  }
  /** links between what lies in different cells, two nodes each */
  const across: number[] = []
  const link = (a: number, b: number) => {
    if (home[a] === home[b]) parent[root(a)] = root(b)
    else across.push(a, b)
  }
  for (let k = 0; k < fine[2]; k++)
    for (let j = 0; j < fine[1]; j++)
      for (let i = 0; i < fine[0]; i++) {
        const v = placeOf(i, j, k)
        if (!inside[v]) continue
        home[v] = cellOf(Math.floor(i / FINER), Math.floor(j / FINER), Math.floor(k / FINER))
        if (i > 0 && inside[v - 1]) link(v, v - 1)
        if (j > 0 && inside[v - fine[0]]) link(v, v - fine[0])
        if (k > 0 && inside[v - fine[0] * fine[1]]) link(v, v - fine[0] * fine[1])
      }
  const middle = (t: number, k: number) => (p[3 * indices[3 * t] + k] + p[3 * indices[3 * t + 1] + k] + p[3 * indices[3 * t + 2] + k]) / 3
  for (let t = 0; t < triangles; t++) home[voxels + t] = cellAt(middle(t, 0), middle(t, 1), middle(t, 2))
  const opposite = oppositesOf(indices, edgesOf(indices))
  for (let h = 0; h < opposite.length; h++) if (opposite[h] > h) link(voxels + Math.floor(h / 3), voxels + Math.floor(opposite[h] / 3))
  // what lies under each triangle, no deeper than half of what is there
  const tree = buildBoxTree(p, indices)
  const step = Math.min(...size) / FINER
  for (let t = 0; t < triangles; t++) {
    const inward = normalOf(p, indices, t).map((v) => -v) as [number, number, number]
    const from = [middle(t, 0), middle(t, 1), middle(t, 2)] as const
    const deep = rayLength(tree, p, indices, from, inward, 1e-6)
    for (const far of [0.3, 0.7, 1.1]) {
      const to = far * step
      if (to > deep / 2) break
      const at = [0, 1, 2].map((k) => Math.min(fine[k] - 1, Math.max(0, Math.floor(((from[k] + to * inward[k] - low[k]) / size[k]) * FINER))))
      const v = placeOf(at[0], at[1], at[2])
      if (!inside[v]) continue
      link(voxels + t, v)
      break
    }
  }
  // parts of cells are numbered in their order
  const copyOf = new Map<number, number>()
  const owner = new Int32Array(home.length).fill(-1)
  const places: number[] = []
  const filled: number[] = []
  for (let v = 0; v < home.length; v++) {
    if (home[v] < 0) continue
    const r = root(v)
    let copy = copyOf.get(r)
    if (copy === undefined) {
      copy = filled.push(0) - 1
      copyOf.set(r, copy)
      const c = home[v]
      places.push(c % n[0], Math.floor(c / n[0]) % n[1], Math.floor(c / (n[0] * n[1])))
    }
    owner[v] = copy
    if (v < voxels) filled[copy] += FINER ** -3
  }
  const { cells, points } = cornersOf(places, across, owner, size, low)
  return {
    points,
    cells,
    places: Int32Array.from(places),
    filled: Float64Array.from(filled),
    size,
    low,
    carrier: carriersOf(p, indices, (t) => owner[voxels + t], places, size, low),
  }
}

/** Which places of a grid lie within a closed solid: columns along z, between where it is entered and left. */
function placesWithin(
  { positions: p, indices }: Pick<Solid, 'positions' | 'indices'>,
  low: readonly number[],
  size: readonly number[],
  fine: readonly number[],
): Uint8Array {
  const step = size.map((v) => v / FINER)
  const inside = new Uint8Array(fine[0] * fine[1] * fine[2])
  const heights: number[][] = Array.from({ length: fine[0] * fine[1] }, () => [])
  for (let i = 0; i < indices.length; i += 3) {
    const [a, b, c] = [3 * indices[i], 3 * indices[i + 1], 3 * indices[i + 2]]
    const turn = (p[b] - p[a]) * (p[c + 1] - p[a + 1]) - (p[b + 1] - p[a + 1]) * (p[c] - p[a])
    if (turn === 0) continue
    const from = (k: 0 | 1) => Math.max(0, Math.floor((Math.min(p[a + k], p[b + k], p[c + k]) - low[k]) / step[k]))
    const to = (k: 0 | 1) => Math.min(fine[k] - 1, Math.floor((Math.max(p[a + k], p[b + k], p[c + k]) - low[k]) / step[k]))
    for (let v = from(1); v <= to(1); v++)
      for (let u = from(0); u <= to(0); u++) {
        const [x, y] = [low[0] + (u + ASIDE[0]) * step[0], low[1] + (v + ASIDE[1]) * step[1]]
        const wa = ((p[b] - x) * (p[c + 1] - y) - (p[b + 1] - y) * (p[c] - x)) / turn
        const wb = ((p[c] - x) * (p[a + 1] - y) - (p[c + 1] - y) * (p[a] - x)) / turn
        const wc = 1 - wa - wb
        if (wa < 0 || wb < 0 || wc < 0) continue
        heights[v * fine[0] + u].push(wa * p[a + 2] + wb * p[b + 2] + wc * p[c + 2])
      }
  }
  heights.forEach((list, column) => {
    // a column through a corner says nothing
    if (list.length % 2 !== 0) return
    list.sort((a, b) => a - b)
    for (let i = 0; i < list.length; i += 2)
      for (let k = Math.max(0, Math.ceil((list[i] - low[2]) / step[2] - 0.5)); k < fine[2] && low[2] + (k + 0.5) * step[2] < list[i + 1]; k++)
        inside[k * fine[0] * fine[1] + column] = 1
  })
  return inside
}

function normalOf(p: Float64Array, indices: Uint32Array, t: number): [number, number, number] {
  const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
  const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]]
  const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]]
  const normal = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx]
  const length = Math.sqrt(normal[0] ** 2 + normal[1] ** 2 + normal[2] ** 2) || 1
  return [normal[0] / length, normal[1] / length, normal[2] / length]
}

/** Corners of cells: of linked ones those that stand at the same place are one. */
function cornersOf(places: readonly number[], across: readonly number[], owner: Int32Array, size: readonly number[], low: readonly number[]) {
  const count = places.length / 3
  const parent = Int32Array.from({ length: 8 * count }, (_, i) => i)
  const root = (i: number): number => {
    while (parent[i] !== i) i = parent[i] = parent[parent[i]]
    return i
  }
  const done = new Set<number>()
  for (let i = 0; i < across.length; i += 2) {
    const [a, b] = [owner[across[i]], owner[across[i + 1]]]
    const key = Math.min(a, b) * count + Math.max(a, b)
    if (done.has(key)) continue
    done.add(key)
    const off = [0, 1, 2].map((k) => places[3 * b + k] - places[3 * a + k])
    if (off.some((v) => Math.abs(v) > 1)) continue
    for (let corner = 0; corner < 8; corner++) {
      const other = off.map((v, k) => ((corner >> k) & 1) - v)
      if (other.some((v) => v < 0 || v > 1)) continue
      parent[root(8 * a + corner)] = root(8 * b + other[0] + 2 * other[1] + 4 * other[2])
    }
  }
  const numbers = new Map<number, number>()
  const points: number[] = []
  const cells = Uint32Array.from({ length: 8 * count }, (_, i) => {
    const r = root(i)
    const known = numbers.get(r)
    if (known !== undefined) return known
    const number = points.length / 3
    numbers.set(r, number)
    const cell = Math.floor(i / 8)
    for (let k = 0; k < 3; k++) points.push(low[k] + size[k] * (places[3 * cell + k] + ((i >> k) & 1)))
    return number
  })
  return { cells, points: Float64Array.from(points) }
}

/** The cell for each vertex: of those that its triangles lie in the one it is nearest to. */
function carriersOf(
  p: Float64Array,
  indices: Uint32Array,
  copyOf: (triangle: number) => number,
  places: readonly number[],
  size: readonly number[],
  low: readonly number[],
): Uint32Array {
  const carrier = new Uint32Array(p.length / 3)
  const off = new Float64Array(p.length / 3).fill(Infinity)
  for (let i = 0; i < indices.length; i++) {
    const v = indices[i]
    const copy = copyOf(Math.floor(i / 3))
    let far = 0
    for (let k = 0; k < 3; k++) {
      const at = (p[3 * v + k] - low[k]) / size[k] - places[3 * copy + k]
      far += Math.max(0, -at, at - 1)
    }
    if (far < off[v]) {
      off[v] = far
      carrier[v] = copy
    }
  }
  return carrier
}
