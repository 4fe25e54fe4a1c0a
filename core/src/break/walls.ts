import { edgesOf } from '../check/edges'
import { NONE } from '../solid/labels'
import { noise } from '../solid/noise'
import { PairTable } from '../solid/pair-table'
import { type Solid, solidBounds } from '../solid/solid'
import { VertexTable } from '../solid/vertex-table'
import type { Cells } from './cells'
import { placesInside } from './samples'
import { volumeOf } from '../solid/volume'

/** Walls of cells as triangles over common vertices: neighbours have the same ones, turned over. */
export interface WallMesh {
  /** x, y, z per vertex, on the lattice */
  readonly positions: Float64Array
  /** three a triangle, counter-clockwise seen from outside of its wall's `cell` */
  readonly indices: Uint32Array
  /** the wall of each triangle, by its number in `cells.walls` */
  readonly wall: Uint32Array
  readonly cells: Cells
  /** triangles of each cell: `+t + 1` as they are, `-t - 1` turned over */
  readonly ofCell: readonly (readonly number[])[]
}

/** How rough broken faces are. */
export interface Roughness {
  /** the size of grains, mm */
  readonly grain: number
  /** 0 to 1 */
  readonly rough: number
  readonly seed: number
  /** cracks that run together at a spot are smooth there: x and y, mm */
  readonly calmAt?: readonly [number, number]
}

/** Grains are as high as this share of their size at most: beyond it, walls that are shaken by smooth noise might fold. */
export const HIGHEST = 0.22
/** Cracks that run together are smooth within so many grains. */
const CALM = 8
/** Sides of a wall's triangles, shares of a grain. */
const FINE = 0.4
/** Walls get no more triangles than these. */
const MOST_WALL_TRIANGLES = 400_000

/**
 * Walls as one mesh over the lattice: what meets at a place has one vertex there. Rough walls are cut finer and shaken by a field of smooth noise in space, which is the same on both
 * sides and folds nowhere. 'torn' where rounding has opened a cell, which another place on the lattice cures; 'too-fine' when it would have too many triangles.
 */
export function wallMesh(cells: Cells, lattice: number, roughness?: Roughness & { readonly near: Near }): WallMesh | 'torn' | 'too-fine' {
  const table = new VertexTable(lattice)
  const round = (v: number) => Math.round(v / lattice) * lattice + 0
  let indices: number[] = []
  let wall: number[] = []
  cells.walls.forEach(({ corners }, w) => {
    const ring: number[] = []
    for (let o = 0; o < corners.length; o += 3) {
      const v = table.vertex(round(corners[o]), round(corners[o + 1]), round(corners[o + 2]))
      if (v !== ring.at(-1)) ring.push(v)
    }
    while (ring.length > 1 && ring[0] === ring.at(-1)) ring.pop()
    if (ring.length < 3) return
    // about the middle, so that corners in a line are no trouble
    if (ring.length === 3) {
      indices.push(...ring)
      wall.push(w)
      return
    }
    const mean = (k: number) => {
      let sum = 0
      for (let o = k; o < corners.length; o += 3) sum += corners[o]
      return round((3 * sum) / corners.length)
    }
    const middle = table.vertex(mean(0), mean(1), mean(2))
    ring.forEach((v, i) => {
      const next = ring[(i + 1) % ring.length]
      if (v === middle || next === middle) return
      indices.push(v, next, middle)
      wall.push(w)
    })
  })
  let positions = table.vertexPositions()
  if (roughness && roughness.rough > 0) {
    const fine = refined(positions, indices, wall, FINE * roughness.grain, roughness.near)
    if (!fine) return 'too-fine'
    ;({ indices, wall } = fine)
    positions = shaken(fine.positions, roughness, lattice)
  }
  const ofCell: number[][] = Array.from({ length: cells.count }, () => [])
  for (let t = 0; t < wall.length; t++) {
    const { cell, other } = cells.walls[wall[t]]
    ofCell[cell].push(t + 1)
    if (other !== NONE) ofCell[other].push(-t - 1)
  }
  const mesh = { positions, indices: Uint32Array.from(indices), wall: Uint32Array.from(wall), cells, ofCell }
  return areClosed(mesh.indices, ofCell) ? mesh : 'torn'
}

/** Whether every side of every cell's triangles is met by another the other way. */
function areClosed(indices: Uint32Array, ofCell: readonly (readonly number[])[]): boolean {
  const { edge, count } = edgesOf(indices)
  const left = new Int32Array(count)
  return ofCell.every((list) => {
    for (const signed of list)
      for (let k = 0; k < 3; k++) {
        const h = 3 * (Math.abs(signed) - 1) + k
        left[edge[h]] += indices[h] < indices[k === 2 ? h - 2 : h + 1] === signed > 0 ? 1 : -1
      }
    let closed = true
    for (const signed of list)
      for (let k = 0; k < 3; k++) {
        const e = edge[3 * (Math.abs(signed) - 1) + k]
        if (left[e] !== 0) closed = false
        left[e] = 0
      }
    return closed
  })
}

/** Whether something of what is broken may lie in a box. */
export type Near = (x0: number, y0: number, z0: number, x1: number, y1: number, z1: number) => boolean

/** Every side near the solid that is longer than `most` is halved, again and again, the same on both sides of it; undefined when that makes too many triangles. */
function refined(from: Float64Array, triangles: readonly number[], walls: readonly number[], most: number, near: Near) {
  const positions = Array.from(from)
  let [indices, wall] = [triangles as number[], walls as number[]]
  const far = (u: number, v: number) =>
    Math.hypot(positions[3 * u] - positions[3 * v], positions[3 * u + 1] - positions[3 * v + 1], positions[3 * u + 2] - positions[3 * v + 2])
  for (;;) {
    const before = wall.length
    const middles = new PairTable(before)
    const middle = (u: number, v: number): number => {
      if (far(u, v) <= most) return -1
      const [low, high] = u < v ? [u, v] : [v, u]
      // 0 where it is left whole, else the vertex's number and one
      const known = middles.get(low, high)
      if (known >= 0) return known - 1
      const [a, b] = [3 * u, 3 * v]
      const p = positions
      const meets = near(
        Math.min(p[a], p[b]),
        Math.min(p[a + 1], p[b + 1]),
        Math.min(p[a + 2], p[b + 2]),
        Math.max(p[a], p[b]),
        Math.max(p[a + 1], p[b + 1]),
        Math.max(p[a + 2], p[b + 2]),
      )
      if (meets) for (let k = 0; k < 3; k++) p.push((p[a + k] + p[b + k]) / 2)
      middles.set(low, high, meets ? p.length / 3 : 0)
      return meets ? p.length / 3 - 1 : -1
    }
    const nextIndices: number[] = []
    const nextWall: number[] = []
    for (let t = 0; t < wall.length; t++) {
      const [a, b, c] = [indices[3 * t], indices[3 * t + 1], indices[3 * t + 2]]
      const [ab, bc, ca] = [middle(a, b), middle(b, c), middle(c, a)]
      if (ab < 0 && bc < 0 && ca < 0) {
        nextIndices.push(a, b, c)
        nextWall.push(wall[t])
        continue
      }
      for (const part of parts([a, b, c], [ab, bc, ca], far)) {
        nextIndices.push(...part)
        nextWall.push(wall[t])
      }
    }
    if (nextWall.length > MOST_WALL_TRIANGLES) return undefined
    ;[indices, wall] = [nextIndices, nextWall]
    if (nextWall.length === before) return { positions: Float64Array.from(positions), indices, wall }
  }
}

/** A triangle over the halves of its sides. */
function parts([a, b, c]: readonly number[], [ab, bc, ca]: readonly number[], far: (u: number, v: number) => number): number[][] {
  const count = [ab, bc, ca].filter((v) => v >= 0).length
  if (count === 0) return [[a, b, c]]
  if (count === 3)
    return [
      [a, ab, ca],
      [ab, b, bc],
      [ca, bc, c],
      [ab, bc, ca],
    ]
  // turned so that the first side is halved and, of two, the second as well
  if (count === 1) {
    if (ab >= 0)
      return [
        [a, ab, c],
        [ab, b, c],
      ]
    return bc >= 0 ? parts([b, c, a], [bc, ca, ab], far) : parts([c, a, b], [ca, ab, bc], far)
  }
  if (ab < 0) return parts([b, c, a], [bc, ca, ab], far)
  if (bc < 0) return parts([c, a, b], [ca, ab, bc], far)
  return far(a, bc) <= far(ab, c)
    ? [
        [ab, b, bc],
        [a, ab, bc],
        [a, bc, c],
      ]
    : [
        [ab, b, bc],
        [a, ab, c],
        [ab, bc, c],
      ]
}

/** Vertices moved by smooth noise, one for each direction. */
function shaken(positions: Float64Array, { grain, rough, seed, calmAt }: Roughness, lattice: number): Float64Array {
  const layers = [0, 1, 2].map((k) => noise(3 * seed + k))
  const high = HIGHEST * grain * rough
  const out = new Float64Array(positions.length)
  for (let o = 0; o < positions.length; o += 3) {
    const [x, y, z] = [positions[o] / grain, positions[o + 1] / grain, positions[o + 2] / grain]
    const calm = calmAt ? Math.min(1, Math.hypot(positions[o] - calmAt[0], positions[o + 1] - calmAt[1]) / (CALM * grain)) : 1
    for (let k = 0; k < 3; k++) out[o + k] = Math.round((positions[o + k] + calm * high * layers[k](x, y, z)) / lattice) * lattice + 0
  }
  return out
}

/** A grid about a solid has no more cells inside of it than these. */
const MOST_CELLS = 100_000

/** What lies within `reach` of a solid or inside of it, by a grid of about `size` mm: rather too much than too little. */
export function nearSolid(solid: Pick<Solid, 'positions' | 'indices'>, size: number, reach: number): Near {
  const { positions: p, indices } = solid
  const box = solidBounds(p)
  const inside = placesInside(solid, Math.min(MOST_CELLS, Math.ceil(Math.abs(volumeOf(solid)) / size ** 3)), 0)
  // cells through which no place may slip
  const wide = Math.max(size, Math.cbrt(inside.volume))
  const from = [0, 1, 2].map((k) => box[k] - reach - 2 * wide)
  const [nx, ny, nz] = [0, 1, 2].map((k) => Math.ceil((box[k + 3] + reach - from[k]) / wide) + 2)
  const taken = new Uint8Array(nx * ny * nz)
  const cell = (v: number, k: number, most: number) => Math.min(most - 1, Math.max(0, Math.floor((v - from[k]) / wide)))
  const eachIn = (x0: number, y0: number, z0: number, x1: number, y1: number, z1: number, visit: (i: number) => boolean): boolean => {
    const [i0, i1, j1, k1] = [cell(x0, 0, nx), cell(x1, 0, nx), cell(y1, 1, ny), cell(z1, 2, nz)]
    for (let z = cell(z0, 2, nz); z <= k1; z++)
      for (let y = cell(y0, 1, ny); y <= j1; y++) for (let x = i0; x <= i1; x++) if (visit((z * ny + y) * nx + x)) return true
    return false
  }
  const mark = (i: number) => {
    taken[i] = 1
    return false
  }
  const around = (list: readonly number[], by: number) => {
    const least = (k: number) => Math.min(...list.map((v) => p[3 * v + k])) - by
    const most = (k: number) => Math.max(...list.map((v) => p[3 * v + k])) + by
    eachIn(least(0), least(1), least(2), most(0), most(1), most(2), mark)
  }
  for (let i = 0; i < indices.length; i += 3) around([indices[i], indices[i + 1], indices[i + 2]], reach)
  const { places } = inside
  for (let i = 0; i < places.length; i += 3) {
    const [x, y, z] = [places[i], places[i + 1], places[i + 2]]
    eachIn(x - wide, y - wide, z - wide, x + wide, y + wide, z + wide, mark)
  }
  return (x0, y0, z0, x1, y1, z1) => eachIn(x0, y0, z0, x1, y1, z1, (i) => taken[i] === 1)
}
