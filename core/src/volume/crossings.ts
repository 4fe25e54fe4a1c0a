import { crossingPairs } from '../check/crossings'
import { trianglesCross } from '../check/triangles'
import { solidBounds } from '../solid/solid'
import { VertexTable } from '../solid/vertex-table'
import type { DualMesh } from './dual-mesh'

/** A wedge narrower than this share of its squared sides is not trusted to be turned the right way. */
const MARGIN = 1e-9

/**
 * Vertices of triangles of a dual mesh that cross others, or lie on each other; none for a mesh that is free of that. It is certain, as long as every vertex
 * lies in its own cell: two quads can meet only where they have a cell in common, so it is enough to look at the quads of each cell. Most
 * often they are seen to be a disc by its shadow on a plane: all triangles face up, and the rim goes round the vertex once, always forward.
 * Only where that does not tell are pairs of triangles tried, exactly.
 */
export function crossingVertices({ positions: p, indices, cell }: DualMesh): Set<number> {
  const quads = indices.length / 6
  const vertices = cell.length
  const corner = (q: number, k: number) => indices[6 * q + (k < 3 ? k : 5)]
  // quads of each vertex
  const first = new Uint32Array(vertices + 1)
  for (let q = 0; q < quads; q++) for (let k = 0; k < 4; k++) first[corner(q, k) + 1]++
  for (let v = 0; v < vertices; v++) first[v + 1] += first[v]
  const list = new Uint32Array(first[vertices])
  const fill = first.slice(0, vertices)
  for (let q = 0; q < quads; q++) for (let k = 0; k < 4; k++) list[fill[corner(q, k)]++] = q
  const crossing = new Set<number>()
  let from = 0
  while (from < vertices) {
    // vertices of one cell follow each other
    let to = from + 1
    while (to < vertices && cell[to] === cell[from]) to++
    if (to - from > 1 || !isDisc(p, indices, list, first[from], first[from + 1], from)) {
      const around: number[] = []
      for (let i = first[from]; i < first[to]; i++) if (!around.includes(list[i])) around.push(list[i])
      tryPairs(p, indices, around, crossing)
    }
    // sheets through one cell that meet in a point or along a side cross nothing, and would be one there
    for (let v = from; v < to; v++)
      for (let w = v + 1; w < to; w++) if (p[3 * v] === p[3 * w] && p[3 * v + 1] === p[3 * w + 1] && p[3 * v + 2] === p[3 * w + 2]) crossing.add(v).add(w)
    from = to
  }
  return crossing
}

function tryPairs(p: Float64Array, indices: Uint32Array, quads: readonly number[], crossing: Set<number>): void {
  for (let i = 0; i < quads.length; i++) {
    for (let j = i; j < quads.length; j++)
      for (let s = 2 * quads[i]; s < 2 * quads[i] + 2; s++)
        for (let t = i === j ? s + 1 : 2 * quads[j]; t < 2 * quads[j] + 2; t++) {
          if (!trianglesCross(p, indices, s, t)) continue
          for (let k = 0; k < 3; k++) {
            crossing.add(indices[3 * s + k])
            crossing.add(indices[3 * t + k])
          }
        }
  }
}

/** x and y of a quad's corners in the plane, counted from the vertex. */
const shadow = new Float64Array(8)

/** Whether the quads round a vertex are seen to cover a plane without overlapping. */
function isDisc(p: Float64Array, indices: Uint32Array, list: Uint32Array, from: number, to: number, v: number): boolean {
  let [nx, ny, nz] = [0, 0, 0]
  for (let i = from; i < to; i++) {
    const o = 6 * list[i]
    const a = 3 * indices[o]
    const b = 3 * indices[o + 1]
    const c = 3 * indices[o + 2]
    const d = 3 * indices[o + 5]
    // the diagonals' cross product is twice the area
    const ex = p[c] - p[a]
    const ey = p[c + 1] - p[a + 1]
    const ez = p[c + 2] - p[a + 2]
    const fx = p[d] - p[b]
    const fy = p[d + 1] - p[b + 1]
    const fz = p[d + 2] - p[b + 2]
    nx += ey * fz - ez * fy
    ny += ez * fx - ex * fz
    nz += ex * fy - ey * fx
  }
  const size = Math.sqrt(nx * nx + ny * ny + nz * nz)
  if (!(size > 0)) return false
  nx /= size
  ny /= size
  nz /= size
  // two directions across it
  let [ux, uy, uz] = Math.abs(nx) < 0.6 ? [0, nz, -ny] : [-nz, 0, nx]
  const long = Math.sqrt(ux * ux + uy * uy + uz * uz)
  ux /= long
  uy /= long
  uz /= long
  const wx = ny * uz - nz * uy
  const wy = nz * ux - nx * uz
  const wz = nx * uy - ny * ux
  const [px, py, pz] = [p[3 * v], p[3 * v + 1], p[3 * v + 2]]
  let rounds = 0
  for (let i = from; i < to; i++) {
    const o = 6 * list[i]
    let own = -1
    for (let k = 0; k < 4; k++) {
      const of = indices[o + (k < 3 ? k : 5)]
      if (of === v) own = k
      const x = p[3 * of] - px
      const y = p[3 * of + 1] - py
      const z = p[3 * of + 2] - pz
      shadow[2 * k] = ux * x + uy * y + uz * z
      shadow[2 * k + 1] = wx * x + wy * y + wz * z
    }
    // both triangles face up
    if (!facesUp(0, 1, 2) || !facesUp(0, 2, 3)) return false
    // and the rim goes forward as seen from the vertex, once round
    for (let k = 1; k < 3; k++) {
      const a = 2 * ((own + k) & 3)
      const b = 2 * ((own + k + 1) & 3)
      const turn = shadow[a] * shadow[b + 1] - shadow[a + 1] * shadow[b]
      if (!(turn > MARGIN * (Math.abs(shadow[a] * shadow[b + 1]) + Math.abs(shadow[a + 1] * shadow[b])))) return false
      if (shadow[a + 1] < 0 && shadow[b + 1] >= 0) rounds++
    }
  }
  return rounds === 1
}

function facesUp(a: number, b: number, c: number): boolean {
  const ex = shadow[2 * b] - shadow[2 * a]
  const ey = shadow[2 * b + 1] - shadow[2 * a + 1]
  const fx = shadow[2 * c] - shadow[2 * a]
  const fy = shadow[2 * c + 1] - shadow[2 * a + 1]
  return ex * fy - ey * fx > MARGIN * (Math.abs(ex * fy) + Math.abs(ey * fx))
}

/** No more crossings than this are looked for at once. */
const MOST_PAIRS = 1000

/**
 * Vertices of triangles for which `suspect` is 1 that cross another, or that lie at one place with another such: for meshes on a lattice of which all
 * other triangles are known to be free of crossings among themselves. Triangles are looked up by cells as large as `size`.
 */
export function crossingSuspects(
  p: Float64Array,
  indices: Uint32Array,
  suspect: Uint8Array,
  { lattice, size }: { lattice: number; size: number },
): Set<number> {
  const crossing = new Set<number>()
  const places = new VertexTable(lattice)
  const seen = new Uint8Array(p.length / 3)
  /** by the number of their place */
  const first: number[] = []
  for (let i = 0; i < indices.length; i++) {
    const v = indices[i]
    if (seen[v] || !suspect[Math.floor(i / 3)]) continue
    seen[v] = 1
    const place = places.vertex(p[3 * v], p[3 * v + 1], p[3 * v + 2])
    if (place < first.length) crossing.add(v).add(first[place])
    else first.push(v)
  }
  if (first.length === 0) return crossing
  const near = nearSuspects(p, indices, suspect, size)
  const corners = new Uint32Array(3 * near.length)
  near.forEach((t, n) => {
    for (let k = 0; k < 3; k++) corners[3 * n + k] = indices[3 * t + k]
  })
  // those that are none are sound among themselves; of each vertex of a suspect all triangles lie in a cell with it, so that its star is whole
  const sound = Int32Array.from(near, (t) => 1 - suspect[t])
  for (const pair of crossingPairs(p, corners, MOST_PAIRS, { owners: sound }))
    for (const t of pair) for (let k = 0; k < 3; k++) crossing.add(corners[3 * t + k])
  return crossing
}

/** No more cells than this are counted. */
const MOST_CELLS = 2 ** 24

/** Suspects, and the triangles that lie in a cell with one of them. */
function nearSuspects(p: Float64Array, indices: Uint32Array, suspect: Uint8Array, size: number): Uint32Array {
  const box = solidBounds(p)
  const along = [0, 0, 0]
  let cell = size / 2
  do {
    cell *= 2
    for (let k = 0; k < 3; k++) along[k] = Math.floor((box[k + 3] - box[k]) / cell) + 1
  } while (along[0] * along[1] * along[2] > MOST_CELLS)
  const has = new Uint8Array(along[0] * along[1] * along[2])
  const from = new Int32Array(3)
  const to = new Int32Array(3)
  const boxOf = (t: number): void => {
    for (let k = 0; k < 3; k++) {
      const a = p[3 * indices[3 * t] + k]
      const b = p[3 * indices[3 * t + 1] + k]
      const c = p[3 * indices[3 * t + 2] + k]
      from[k] = Math.floor((Math.min(a, b, c) - box[k]) / cell)
      to[k] = Math.floor((Math.max(a, b, c) - box[k]) / cell)
    }
  }
  for (let t = 0; t < suspect.length; t++) {
    if (!suspect[t]) continue
    boxOf(t)
    for (let z = from[2]; z <= to[2]; z++)
      for (let y = from[1]; y <= to[1]; y++) for (let x = from[0]; x <= to[0]; x++) has[x + along[0] * (y + along[1] * z)] = 1
  }
  const meets = (t: number): boolean => {
    boxOf(t)
    for (let z = from[2]; z <= to[2]; z++)
      for (let y = from[1]; y <= to[1]; y++) for (let x = from[0]; x <= to[0]; x++) if (has[x + along[0] * (y + along[1] * z)]) return true
    return false
  }
  const near = new Uint32Array(suspect.length)
  let count = 0
  for (let t = 0; t < suspect.length; t++) if (suspect[t] || meets(t)) near[count++] = t
  return near.subarray(0, count)
}
