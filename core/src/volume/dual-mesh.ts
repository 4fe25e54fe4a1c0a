import { longer } from '../solid/vertex-table'
import { type SparseField, TILE } from './field'
import { EDGES, PATCHES, ROW, rowOf, TWICE } from './patches'

/** What a field's zero surface is as triangles; two-manifold and closed by construction. */
export interface DualMesh {
  readonly positions: Float64Array
  readonly indices: Uint32Array
  /** per vertex the sample its cell begins at, as an index into the field's samples */
  readonly cell: Int32Array
  /** where vertices may go back to when triangles cross: the mean of each one's crossings */
  readonly safe: Float64Array
}

/** A cell's vertex: moved by whoever wants it elsewhere than at the mean of its crossings. */
export interface CellVertex {
  /** the sample the cell begins at */
  x: number
  y: number
  z: number
  /** distances at its eight corners */
  readonly values: Float64Array
  /** where its row of PATCHES begins, and which of the cell's patches it stands for */
  row: number
  patch: number
}

/** How the four cells round a grid edge name it: steps back on the next two axes, in turn about the edge. */
const ROUND = [0, 1, 3, 2]

/** A vertex in its cell, 0 to 1 each way. */
const spot = new Float64Array(3)

/** Vertices keep off the sides of their cells by this share of a voxel. */
const INSET = 1e-3

/** Pulls a spot onto the cell's own surface, along the slope of its trilinear field, within the cell. */
function pull(f: Float64Array, at: Float64Array): void {
  for (let round = 0; round < 2; round++) {
    const [x, y, z] = at
    const a = f[0] + x * (f[1] - f[0])
    const b = f[2] + x * (f[3] - f[2])
    const c = f[4] + x * (f[5] - f[4])
    const d = f[6] + x * (f[7] - f[6])
    const low = a + y * (b - a)
    const high = c + y * (d - c)
    const value = low + z * (high - low)
    const gz = high - low
    const gy = b - a + z * (d - c - (b - a))
    const ex = f[1] - f[0] + y * (f[3] - f[2] - (f[1] - f[0]))
    const gx = ex + z * (f[5] - f[4] + y * (f[7] - f[6] - (f[5] - f[4])) - ex)
    const slope = gx * gx + gy * gy + gz * gz
    if (!(slope > 0)) return
    const by = value / slope
    at[0] = Math.min(1 - INSET, Math.max(INSET, x - by * gx))
    at[1] = Math.min(1 - INSET, Math.max(INSET, y - by * gy))
    at[2] = Math.min(1 - INSET, Math.max(INSET, z - by * gz))
  }
}

/** Tiles after which meshing asks whether to go on. */
const TURN = 256

/**
 * The zero surface of a field as a dual mesh: a vertex for each patch of each crossed cell, at the mean of its crossings pulled onto the field, or where `place`
 * puts it (`place` changes the three numbers at 3·vertex), and two triangles about every crossed grid edge, on the shorter diagonal.
 */
export async function dualMesh(
  field: SparseField,
  {
    place,
    level = 0,
    breathe = async () => {},
  }: { place?: (positions: Float64Array, vertex: number, at: CellVertex) => void; level?: number; breathe?: () => Promise<void> } = {},
): Promise<DualMesh> {
  const { tiles } = field
  const strides = [1, tiles[0], tiles[0] * tiles[1]]
  const samples = field.count * TILE
  const inside = new Uint8Array(samples)
  const flipped = new Uint8Array(samples)
  const block = new Float32Array(729)
  let cut = new Int32Array(1024)
  let cuts = 0
  for (let s = 0; s < field.count; s++) {
    if (s % TURN === 0) await breathe()
    field.block(s, block, 0)
    for (let i = 0; i < TILE; i++) {
      const b = (i & 7) + 9 * ((i >> 3) & 7) + 81 * (i >> 6)
      let c = 0
      if (block[b] < level) c |= 1
      if (block[b + 1] < level) c |= 2
      if (block[b + 9] < level) c |= 4
      if (block[b + 10] < level) c |= 8
      if (block[b + 81] < level) c |= 16
      if (block[b + 82] < level) c |= 32
      if (block[b + 90] < level) c |= 64
      if (block[b + 91] < level) c |= 128
      if (c === 0 || c === 255) continue
      if (cuts === cut.length) cut = longer(cut, 2 * cuts)
      cut[cuts++] = s * TILE + i
      inside[s * TILE + i] = c
    }
  }
  /** the sample one step along an axis, −1 where there is no tile */
  const stepped = (p: number, axis: number, by: 1 | -1): number => {
    const shift = 3 * axis
    const v = ((p >> shift) & 7) + by
    if (v >= 0 && v < 8) return p + by * (1 << shift)
    const slot = field.directory[field.home[p >> 9] + by * strides[axis]]
    return slot < 0 ? -1 : slot * TILE + ((p & 511 & ~(7 << shift)) | ((v & 7) << shift))
  }
  // faces that both of their cells would pass twice in one patch
  for (let n = 0; n < cuts; n++) {
    const p = cut[n]
    const twice = TWICE[inside[p]]
    if (twice === 0) continue
    for (let axis = 0; axis < 3; axis++) {
      if (!(twice & (1 << (2 * axis + 1)))) continue
      const q = stepped(p, axis, 1)
      if (q < 0 || !(TWICE[inside[q]] & (1 << (2 * axis)))) continue
      flipped[p] = 2 * axis + 2
      flipped[q] = 2 * axis + 1
    }
  }
  const first = new Int32Array(samples)
  let vertices = 0
  for (let n = 0; n < cuts; n++) {
    first[cut[n]] = vertices
    vertices += PATCHES[rowOf(inside[cut[n]], flipped[cut[n]]) + ROW - 1]
  }
  const positions = new Float64Array(3 * vertices)
  const cell = new Int32Array(vertices)
  const safe = new Float64Array(3 * vertices)
  const at: CellVertex = { x: 0, y: 0, z: 0, values: new Float64Array(8), row: 0, patch: 0 }
  const { values } = at
  const h = field.voxel
  const [ox, oy, oz] = field.origin
  let last = -1
  let corner = [0, 0, 0]
  for (let n = 0; n < cuts; n++) {
    const p = cut[n]
    const s = p >> 9
    if (s !== last) {
      if (s % TURN === 0) await breathe()
      field.block(s, block, 0)
      corner = field.cornerOf(s)
      last = s
    }
    const i = p & 511
    at.x = corner[0] + (i & 7)
    at.y = corner[1] + ((i >> 3) & 7)
    at.z = corner[2] + (i >> 6)
    const b = (i & 7) + 9 * ((i >> 3) & 7) + 81 * (i >> 6)
    for (let k = 0; k < 8; k++) values[k] = block[b + (k & 1) + 9 * ((k >> 1) & 1) + 81 * (k >> 2)] - level
    at.row = rowOf(inside[p], flipped[p])
    const count = PATCHES[at.row + ROW - 1]
    for (let patch = 0; patch < count; patch++) {
      let [crossings, x, y, z] = [0, 0, 0, 0]
      for (let e = 0; e < 12; e++) {
        if (PATCHES[at.row + e] !== patch) continue
        const [low, high] = EDGES[e]
        const share = values[low] / (values[low] - values[high])
        const axis = e >> 2
        crossings++
        x += (low & 1) + (axis === 0 ? share : 0)
        y += ((low >> 1) & 1) + (axis === 1 ? share : 0)
        z += (low >> 2) + (axis === 2 ? share : 0)
      }
      const v = first[p] + patch
      cell[v] = p
      spot[0] = x / crossings
      spot[1] = y / crossings
      spot[2] = z / crossings
      safe[3 * v] = ox + (at.x + spot[0]) * h
      safe[3 * v + 1] = oy + (at.y + spot[1]) * h
      safe[3 * v + 2] = oz + (at.z + spot[2]) * h
      // where a cell has several patches its field does not tell which is meant
      if (count === 1) pull(values, spot)
      positions[3 * v] = ox + (at.x + spot[0]) * h
      positions[3 * v + 1] = oy + (at.y + spot[1]) * h
      positions[3 * v + 2] = oz + (at.z + spot[2]) * h
      if (place) {
        at.patch = patch
        place(positions, v, at)
      }
    }
  }
  let indices = new Uint32Array(6 * vertices + 1024)
  let used = 0
  const quad = new Int32Array(4)
  const apart = (i: number, j: number) =>
    (positions[3 * i] - positions[3 * j]) ** 2 + (positions[3 * i + 1] - positions[3 * j + 1]) ** 2 + (positions[3 * i + 2] - positions[3 * j + 2]) ** 2
  for (let n = 0; n < cuts; n++) {
    const p = cut[n]
    if (n % 65_536 === 0) await breathe()
    for (let axis = 0; axis < 3; axis++) {
      const high = (inside[p] >> (1 << axis)) & 1
      if ((inside[p] & 1) === high) continue
      for (let k = 0; k < 4; k++) {
        const back = ROUND[k]
        let q = p
        if (back & 1) q = stepped(q, (axis + 1) % 3, -1)
        if (back & 2) q = stepped(q, (axis + 2) % 3, -1)
        quad[k] = first[q] + PATCHES[rowOf(inside[q], flipped[q]) + 4 * axis + back]
      }
      if (high) [quad[1], quad[3]] = [quad[3], quad[1]]
      const turn = apart(quad[0], quad[2]) <= apart(quad[1], quad[3]) ? 0 : 1
      if (used + 6 > indices.length) indices = longer(indices, 2 * indices.length)
      indices[used] = quad[turn]
      indices[used + 1] = quad[1 + turn]
      indices[used + 2] = quad[2 + turn]
      indices[used + 3] = quad[turn]
      indices[used + 4] = quad[2 + turn]
      indices[used + 5] = quad[(3 + turn) & 3]
      used += 6
    }
  }
  return { positions, indices: indices.slice(0, used), cell, safe }
}
