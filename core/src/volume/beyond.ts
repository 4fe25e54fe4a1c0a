import { type BoxTree, buildBoxTree } from '../check/tree'
import type { Triangles } from '../solid/from-triangles'
import { SIDE, type SparseField, TILE } from './field'
import { toTriangle } from './nearest'

/** Tiles after which it is asked whether to go on. */
const TURN = 64

/**
 * Squared distances of the samples that nothing is near to yet, exactly, where they are less than `reach` voxels: each looks for its nearest triangle in a tree of boxes, where most is passed
 * over since the sample before it is known to be hardly nearer. The cost grows with the samples, and hardly with the triangles: far from a fine surface, offering every triangle to every sample
 * about it, as `splat` does, is many times that. Tiles are those of `only`, or reached from the ones that are there. Ties go to the lower triangle.
 */
export async function fillBeyond(
  field: SparseField,
  mesh: Triangles,
  reach: number,
  { only, breathe = async () => {} }: { only?: Uint8Array; breathe?: (done: number) => Promise<void> } = {},
): Promise<void> {
  if (mesh.indices.length === 0) return
  const search = new Search(mesh, buildBoxTree(mesh.positions, mesh.indices))
  const h = field.voxel
  const [tx, ty, tz] = field.tiles
  const far = (field.band * h) ** 2
  const limit = (reach * h) ** 2
  // from a tile's middle to its farthest sample
  const half = ((SIDE - 1) / 2) * h
  const corner = half * Math.sqrt(3)
  const seen = new Uint8Array(field.directory.length)
  const queue: number[] = []
  const ask = (tile: number) => {
    if (seen[tile]) return
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
    search.from(x0 + half, y0 + half, z0 + half, (reach * h + corner) ** 2, -1)
    if (search.triangle < 0) continue
    let known = search.triangle
    const slot = field.slot(tile, far)
    const { distance, triangle } = field
    // there and back along the rows, so that each sample lies beside the one before
    for (let p = 0; p < TILE; p++) {
      const layer = p >> 6
      const row = layer & 1 ? 7 - ((p >> 3) & 7) : (p >> 3) & 7
      const column = (p >> 3) & 1 ? 7 - (p & 7) : p & 7
      const at = slot * TILE + (column | (row << 3) | (layer << 6))
      if (triangle[at] >= 0) continue
      search.from(x0 + column * h, y0 + row * h, z0 + layer * h, limit, known)
      if (search.triangle < 0) continue
      known = search.triangle
      distance[at] = search.squared
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

/** The nearest triangle of one place after the other. */
class Search {
  /** of the nearest triangle; where there is none within the bound it is −1 */
  triangle = -1
  squared = Infinity
  private readonly stack = new Int32Array(256)

  constructor(
    private readonly mesh: Triangles,
    private readonly tree: BoxTree,
  ) {}

  /** Looks for what is nearer to a place than the root of `bound`; `known`, a triangle or −1, is tried first. */
  from(x: number, y: number, z: number, bound: number, known: number): void {
    const { boxes, first, count, right, order } = this.tree
    const { positions, indices } = this.mesh
    const stack = this.stack
    let squared = bound
    let triangle = -1
    if (known >= 0) {
      const q = toTriangle(x, y, z, positions, 3 * indices[3 * known], 3 * indices[3 * known + 1], 3 * indices[3 * known + 2])
      if (q < squared) {
        squared = q
        triangle = known
      }
    }
    let top = 0
    stack[top++] = 0
    while (top > 0) {
      const node = stack[--top]
      if (toBox(boxes, 6 * node, x, y, z) > squared) continue
      const n = count[node]
      if (n > 0) {
        for (let i = first[node]; i < first[node] + n; i++) {
          const t = order[i]
          if (t === known) continue
          const q = toTriangle(x, y, z, positions, 3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2])
          if (q > squared || (q === squared && t > triangle && triangle >= 0)) continue
          squared = q
          triangle = t
        }
        continue
      }
      const left = node + 1
      const other = right[node]
      // the nearer one comes off the stack first
      if (toBox(boxes, 6 * left, x, y, z) <= toBox(boxes, 6 * other, x, y, z)) {
        stack[top++] = other
        stack[top++] = left
      } else {
        stack[top++] = left
        stack[top++] = other
      }
    }
    this.squared = squared
    this.triangle = triangle
  }
}

/** Squared distance of a place from a box, 0 inside. */
function toBox(boxes: Float64Array, o: number, x: number, y: number, z: number): number {
  const dx = x < boxes[o] ? boxes[o] - x : x > boxes[o + 3] ? x - boxes[o + 3] : 0
  const dy = y < boxes[o + 1] ? boxes[o + 1] - y : y > boxes[o + 4] ? y - boxes[o + 4] : 0
  const dz = z < boxes[o + 2] ? boxes[o + 2] - z : z > boxes[o + 5] ? z - boxes[o + 5] : 0
  return dx * dx + dy * dy + dz * dz
}
