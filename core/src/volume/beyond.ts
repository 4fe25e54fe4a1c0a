import type { Triangles } from '../solid/from-triangles'
import { INSIDE, OUTSIDE, SIDE, type SparseField, TILE } from './field'
import { NearestTriangle } from './nearest-triangle'

/** Tiles after which it is asked whether to go on. */
const TURN = 16

export type Side = 'inside' | 'outside'
/** of the distances of samples there */
const SIGN = { inside: -1, outside: 1 }
/** what tiles are told to be that have none of its samples */
const SHUT = { inside: OUTSIDE, outside: INSIDE }

/**
 * Squared distances of the samples that nothing is near to yet, exactly, where they are less than `reach` voxels: each looks for its nearest triangle in a tree of boxes, where most is passed
 * over since the sample before it is known to be hardly nearer. The cost grows with the samples, and hardly with the triangles: far from a fine surface, offering every triangle to every sample
 * about it, as `splat` does, is many times that. Tiles are those of `only`, or reached from the ones that are there. Ties go to the lower triangle.
 *
 * Where a `side` is given, the field has its signs already: only samples of that side are filled, with distances, and those that lie less than `deep` mm off need only be told to.
 */
export async function fillBeyond(
  field: SparseField,
  mesh: Triangles,
  reach: number,
  { only, side, deep = 0, breathe = async () => {} }: { only?: Uint8Array; side?: Side; deep?: number; breathe?: (done: number) => Promise<void> } = {},
): Promise<void> {
  if (mesh.indices.length === 0) return
  const search = new NearestTriangle(mesh)
  const h = field.voxel
  const [tx, ty, tz] = field.tiles
  const sign = side ? SIGN[side] : 0
  const far = sign ? sign * field.band * h : (field.band * h) ** 2
  const enough = Math.max(0, deep) ** 2
  const limit = (reach * h) ** 2
  // from a tile's middle to its farthest sample
  const half = ((SIDE - 1) / 2) * h
  const corner = half * Math.sqrt(3)
  const shut = side && SHUT[side]
  const seen = new Uint8Array(field.directory.length)
  const queue: number[] = []
  const ask = (tile: number) => {
    if (seen[tile] || field.directory[tile] === shut) return
    seen[tile] = 1
    queue.push(tile)
  }
  if (only) only.forEach((open, tile) => open === 1 && ask(tile))
  else for (let s = 0; s < field.count; s++) ask(field.home[s])
  for (let n = 0; n < queue.length; n++) {
    if (n % TURN === TURN - 1) await breathe(n / queue.length)
    const tile = queue[n]
    const [i, j, k] = [tile % tx, Math.floor(tile / tx) % ty, Math.floor(tile / (tx * ty))]
    const [x0, y0, z0] = [field.origin[0] + SIDE * h * i, field.origin[1] + SIDE * h * j, field.origin[2] + SIDE * h * k]
    search.about(0, 0, 0, 0, Infinity)
    search.from(x0 + half, y0 + half, z0 + half, (reach * h + corner) ** 2, -1)
    if (search.triangle < 0) continue
    let known = search.triangle
    const middle = Math.sqrt(search.squared)
    search.about(x0 + half, y0 + half, z0 + half, half, (1 + 1e-9) * Math.min(reach * h, middle + corner))
    const slot = field.slot(tile, far)
    const { distance, triangle } = field
    // there and back along the rows, so that each sample lies beside the one before
    for (let p = 0; p < TILE; p++) {
      const layer = p >> 6
      const row = layer & 1 ? 7 - ((p >> 3) & 7) : (p >> 3) & 7
      const column = (p >> 3) & 1 ? 7 - (p & 7) : p & 7
      const at = slot * TILE + (column | (row << 3) | (layer << 6))
      if (triangle[at] >= 0 || sign * distance[at] < 0) continue
      // farther from the middle than the surface is
      const off = h * Math.sqrt((column - 3.5) ** 2 + (row - 3.5) ** 2 + (layer - 3.5) ** 2)
      if (middle - off > reach * h) continue
      search.from(x0 + column * h, y0 + row * h, z0 + layer * h, limit, known, enough)
      if (search.triangle < 0) continue
      known = search.triangle
      distance[at] = sign ? sign * Math.sqrt(Math.fround(search.squared)) : search.squared
      triangle[at] = known
    }
    if (only) continue
    if (i > 0) ask(tile - 1)
    if (i < tx - 1) ask(tile + 1)
    if (j > 0) ask(tile - tx)
    if (j < ty - 1) ask(tile + tx)
    if (k > 0) ask(tile - tx * ty)
    if (k < tz - 1) ask(tile + tx * ty)
  }
}
