import type { Triangles } from '../solid/from-triangles'
import { INSIDE, type SparseField, TILE } from './field'

/** One axis' lines of samples through a mesh. */
export interface Windings {
  /** lines on which the mesh does not come to nought: it is open there, or has triangles turned over */
  readonly open: number
  /** per line, 1 for those */
  readonly isOpen: Uint8Array
  /** per sample of the tiles: how often the mesh winds round it */
  readonly winding: Int16Array
  /** per tile of the directory, of those that are not there */
  readonly empty: Int16Array
}

/**
 * Winding numbers of all samples by crossings along rows of samples, without any epsilon: vertices are rounded to a lattice so fine that
 * every side function is a whole number below 2⁵³, and a sample's line on a side belongs to one of its triangles only (the top-left rule
 * of rasterisers), so that a closed mesh comes to nought on every line, whatever its slivers. `axis` is the one the lines run along.
 */
export function windingsAlong(field: SparseField, { positions: pos, indices: idx }: Triangles, axis: 0 | 1 | 2): Windings {
  const h = field.voxel
  const [b, c] = [(axis + 1) % 3, (axis + 2) % 3]
  const N = field.tiles.map((n) => 8 * n)
  // lattice steps a voxel
  const Q = 2 ** (25 - Math.ceil(Math.log2(Math.max(N[b], N[c]))))
  const count = pos.length / 3
  const Y = new Float64Array(count)
  const Z = new Float64Array(count)
  for (let v = 0; v < count; v++) {
    Y[v] = Math.round(((pos[3 * v + b] - field.origin[b]) / h) * Q)
    Z[v] = Math.round(((pos[3 * v + c] - field.origin[c]) / h) * Q)
  }
  let room = 1 << 16
  let met = 0
  let row = new Int32Array(room)
  let at = new Float64Array(room)
  let way = new Int8Array(room)
  for (let t = 0; t < idx.length; t += 3) {
    const p = idx[t]
    let [q, r] = [idx[t + 1], idx[t + 2]]
    const area = (Y[q] - Y[p]) * (Z[r] - Z[p]) - (Z[q] - Z[p]) * (Y[r] - Y[p])
    if (area === 0) continue
    // one that faces back along the axis lets the line in
    const enters = area < 0 ? 1 : -1
    if (area < 0) [q, r] = [r, q]
    const [ya, za, yb, zb, yc, zc] = [Y[p], Z[p], Y[q], Z[q], Y[r], Z[r]]
    const sum = Math.abs(area)
    const oab = owns(yb - ya, zb - za)
    const obc = owns(yc - yb, zc - zb)
    const oca = owns(ya - yc, za - zc)
    const z1 = Math.min(N[c] - 1, Math.floor(Math.max(za, zb, zc) / Q))
    for (let z = Math.max(0, Math.ceil(Math.min(za, zb, zc) / Q)); z <= z1; z++) {
      const pz = z * Q
      // narrowed in floating point, then widened by one sample
      let low = Math.min(ya, yb, yc)
      let high = Math.max(ya, yb, yc)
      for (let side = 0; side < 3; side++) {
        const [py, qy, pa, qa] = side === 0 ? [ya, yb, za, zb] : side === 1 ? [yb, yc, zb, zc] : [yc, ya, zc, za]
        if (qa === pa) continue
        const y = py + ((qy - py) * (pz - pa)) / (qa - pa)
        if (qa > pa) {
          if (y < high) high = y
        } else if (y > low) low = y
      }
      const y1 = Math.min(N[b] - 1, Math.floor(high / Q) + 1)
      for (let y = Math.max(0, Math.ceil(low / Q) - 1); y <= y1; y++) {
        const py = y * Q
        const eab = (yb - ya) * (pz - za) - (zb - za) * (py - ya)
        if (eab < 0 || (eab === 0 && !oab)) continue
        const ebc = (yc - yb) * (pz - zb) - (zc - zb) * (py - yb)
        if (ebc < 0 || (ebc === 0 && !obc)) continue
        const eca = (ya - yc) * (pz - zc) - (za - zc) * (py - yc)
        if (eca < 0 || (eca === 0 && !oca)) continue
        if (met === room) {
          room *= 2
          const longer = <T extends Int32Array | Float64Array | Int8Array>(old: T, made: T): T => {
            made.set(old)
            return made
          }
          row = longer(row, new Int32Array(room))
          at = longer(at, new Float64Array(room))
          way = longer(way, new Int8Array(room))
        }
        row[met] = y + N[b] * z
        way[met] = enters
        at[met++] = ((ebc * pos[3 * p + axis] + eca * pos[3 * q + axis] + eab * pos[3 * r + axis]) / sum - field.origin[axis]) / h
      }
    }
  }
  return along(field, axis, N, row, at, way, met)
}

const owns = (dy: number, dz: number) => dz > 0 || (dz === 0 && dy < 0)

/** Goes along every row with its crossings in their order. */
function along(field: SparseField, axis: 0 | 1 | 2, N: readonly number[], row: Int32Array, at: Float64Array, way: Int8Array, met: number): Windings {
  const [b, c] = [(axis + 1) % 3, (axis + 2) % 3]
  const rows = N[b] * N[c]
  const first = new Int32Array(rows + 1)
  for (let i = 0; i < met; i++) first[row[i] + 1]++
  for (let r = 0; r < rows; r++) first[r + 1] += first[r]
  const order = new Int32Array(met)
  const fill = first.slice()
  for (let i = 0; i < met; i++) order[fill[row[i]]++] = i
  const winding = new Int16Array(field.count * TILE)
  const empty = new Int16Array(field.directory.length)
  const strides = [1, field.tiles[0], field.tiles[0] * field.tiles[1]]
  const shift = [0, 3, 6]
  let open = 0
  const isOpen = new Uint8Array(rows)
  for (let r = 0; r < rows; r++) {
    const [y, z] = [r % N[b], Math.floor(r / N[b])]
    const [from, end] = [first[r], first[r + 1]]
    for (let i = from + 1; i < end; i++) {
      const q = order[i]
      let j = i - 1
      while (j >= from && (at[order[j]] > at[q] || (at[order[j]] === at[q] && order[j] > q))) {
        order[j + 1] = order[j]
        j--
      }
      order[j + 1] = q
    }
    const rowTile = (y >> 3) * strides[b] + (z >> 3) * strides[c]
    const rowAt = ((y & 7) << shift[b]) | ((z & 7) << shift[c])
    const step = 1 << shift[axis]
    let w = 0
    let i = from
    for (let tile = 0; tile < field.tiles[axis]; tile++) {
      const place = rowTile + tile * strides[axis]
      const slot = field.directory[place]
      if (slot < 0) {
        // one number for the whole tile, taken on its first row
        while (i < end && at[order[i]] <= 8 * tile) w += way[order[i++]]
        if (rowAt === 0) empty[place] = w
        continue
      }
      for (let k = 0, p = slot * TILE + rowAt; k < 8; k++, p += step) {
        while (i < end && at[order[i]] <= 8 * tile + k) w += way[order[i++]]
        winding[p] = w
      }
    }
    while (i < end) w += way[order[i++]]
    if (w === 0) continue
    isOpen[r] = 1
    open++
  }
  return { open, isOpen, winding, empty }
}

/**
 * Ends a splatted field: roots of the squared distances, negative where the mesh winds round a sample, so that overlapping solids unite;
 * tiles that are not there are told apart in the directory. Gives the number of lines on which the mesh was found open.
 *
 * Where it is, those lines on which it is not decide. Samples that they do not agree on, or that have none, ask `elsewise` (a winding number that bears holes).
 */
export function signByWinding(field: SparseField, mesh: Triangles, elsewise?: () => (x: number, y: number, z: number) => number): number {
  const x = windingsAlong(field, mesh, 0)
  const inside = new Uint8Array(x.winding.length)
  const emptyInside = new Uint8Array(x.empty.length)
  if (x.open === 0 || !elsewise) {
    for (let p = 0; p < inside.length; p++) inside[p] = x.winding[p] > 0 ? 1 : 0
    for (let d = 0; d < emptyInside.length; d++) emptyInside[d] = x.empty[d] > 0 ? 1 : 0
  } else {
    const [y, z] = [windingsAlong(field, mesh, 1), windingsAlong(field, mesh, 2)]
    const ask = elsewise()
    const h = field.voxel
    const [ox, oy, oz] = field.origin
    const [tx, ty] = field.tiles
    const [nx, ny, nz] = field.tiles.map((n) => 8 * n)
    const verdict = (a: number, b: number, c: number, i: number, j: number, k: number) => {
      const [p, q, r] = [x.isOpen[j + ny * k], y.isOpen[k + nz * i], z.isOpen[i + nx * j]]
      // what is missing or turned over elsewhere does not spoil a line that comes to nought
      const [u, v, w] = [p ? 0 : a > 0 ? 1 : -1, q ? 0 : b > 0 ? 1 : -1, r ? 0 : c > 0 ? 1 : -1]
      const sum = u + v + w
      if (sum !== 0 && Math.abs(sum) === Math.abs(u) + Math.abs(v) + Math.abs(w)) return sum > 0 ? 1 : 0
      return ask(ox + i * h, oy + j * h, oz + k * h) > 0.5 ? 1 : 0
    }
    for (let s = 0; s < field.count; s++) {
      const [i, j, k] = field.cornerOf(s)
      for (let n = 0, p = s * TILE; n < TILE; n++, p++)
        inside[p] = verdict(x.winding[p], y.winding[p], z.winding[p], i + (n & 7), j + ((n >> 3) & 7), k + (n >> 6))
    }
    for (let d = 0; d < emptyInside.length; d++)
      if (field.directory[d] < 0)
        emptyInside[d] = verdict(x.empty[d], y.empty[d], z.empty[d], 8 * (d % tx), 8 * (Math.floor(d / tx) % ty), 8 * Math.floor(d / (tx * ty)))
  }
  const upon: number[] = []
  for (let p = 0; p < inside.length; p++) {
    const d = Math.sqrt(field.distance[p])
    field.distance[p] = inside[p] ? -d : d
    if (d === 0) upon.push(p)
  }
  for (let d = 0; d < emptyInside.length; d++) if (field.directory[d] < 0 && emptyInside[d]) field.directory[d] = INSIDE
  for (const p of upon) if (!besideOutside(field, p)) field.distance[p] = -LEAST
  return x.open
}

/** A distance that is as good as none, but has a sign. */
const LEAST = 1e-30

/** Whether a sample upon the surface has one outside beside it. Where it has none, solids touch there, or nearly: the room between them is none. */
function besideOutside(field: SparseField, p: number): boolean {
  const corner = field.cornerOf(p >> 9)
  const x = corner[0] + (p & 7)
  const y = corner[1] + ((p >> 3) & 7)
  const z = corner[2] + ((p >> 6) & 7)
  for (let by = -1; by <= 1; by += 2)
    if (field.distanceAt(x + by, y, z) > 0 || field.distanceAt(x, y + by, z) > 0 || field.distanceAt(x, y, z + by) > 0) return true
  return false
}
