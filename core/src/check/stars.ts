import { cornersAbout } from './corners'

/** What an area in the plane must be at least, as a share of its sides' product, to be sure of its sign: rounding comes to less than a millionth of that. */
const SURE = 1e-8
/** A vertex with more triangles than this is not looked at: the work grows with their square. */
const MOST = 24

const from = new Int32Array(MOST)
const to = new Int32Array(MOST)

/**
 * Of vertices of a mesh whether the triangles about them are seen to meet in nothing but the vertex and the sides they share. They are cast on the
 * plane square to their mean normal: there each must face up and all of them together go round the vertex once, so that their shadows do not overlap. Each is looked at when it
 * is first asked about. `planes` are those of planesOf.
 */
export class Stars {
  /** where each vertex's corners begin in the list of them */
  private readonly first: Uint32Array
  private readonly corners: Uint32Array
  /** of each vertex 1 where they are, 2 where they are not or it is not seen, 0 where nobody has asked */
  private readonly known: Uint8Array

  constructor(
    private readonly p: ArrayLike<number>,
    private readonly ids: ArrayLike<number>,
    private readonly planes: Float64Array,
  ) {
    const vertices = p.length / 3
    const { first, corners } = cornersAbout(ids, vertices)
    this.first = first
    this.corners = corners
    this.known = new Uint8Array(vertices)
  }

  isSpread(v: number): boolean {
    const { p, ids, planes, corners, first, known } = this
    if (known[v] === 0) known[v] = isSpread(p, ids, planes, corners, first[v], first[v + 1]) ? 1 : 2
    return known[v] === 1
  }
}

const across = new Float64Array(6)

/** Puts two directions that are square to one of length one, and to each other, into `out` (Duff and others, "Building an orthonormal basis, revisited", 2017). */
export function putAcross(x: number, y: number, z: number, out: Float64Array): void {
  const sign = z >= 0 ? 1 : -1
  const a = -1 / (sign + z)
  const b = x * y * a
  out[0] = 1 + sign * x * x * a
  out[1] = sign * b
  out[2] = -sign * x
  out[3] = b
  out[4] = sign + y * y * a
  out[5] = -y
}

function isSpread(p: ArrayLike<number>, ids: ArrayLike<number>, planes: Float64Array, corners: Uint32Array, begin: number, end: number): boolean {
  const count = end - begin
  if (count < 3 || count > MOST) return false
  let nx = 0
  let ny = 0
  let nz = 0
  for (let c = begin; c < end; c++) {
    const o = 6 * ((corners[c] / 3) | 0)
    const x = planes[o]
    const y = planes[o + 1]
    const z = planes[o + 2]
    const size = Math.sqrt(x * x + y * y + z * z)
    if (size === 0) return false
    nx += x / size
    ny += y / size
    nz += z / size
  }
  const size = Math.sqrt(nx * nx + ny * ny + nz * nz)
  if (!(size > 1e-3)) return false
  if (!goRound(p, ids, corners, begin, end, nx / size, ny / size, nz / size)) return false
  for (let k = 0; k < count; k++) {
    const c = corners[begin + k]
    const n = c % 3 === 2 ? c - 2 : c + 1
    from[k] = ids[n]
    to[k] = ids[n % 3 === 2 ? n - 2 : n + 1]
  }
  // each goes on in one other: they are closed rings, and as they go round once in all, one ring
  for (let k = 0; k < count; k++) {
    let before = 0
    let after = 0
    for (let j = 0; j < count; j++) {
      if (to[j] === from[k]) before++
      if (from[j] === to[k]) after++
    }
    if (before !== 1 || after !== 1) return false
  }
  return true
}

/**
 * Whether the triangles at some corners, all of one vertex, face a direction of length one for sure and go round their vertex once as seen against it. If they are a ring, they meet in
 * nothing but the vertex and the sides they share then.
 */
export function goRound(
  p: ArrayLike<number>,
  ids: ArrayLike<number>,
  corners: Uint32Array,
  begin: number,
  end: number,
  nx: number,
  ny: number,
  nz: number,
): boolean {
  putAcross(nx, ny, nz, across)
  const [ux, uy, uz] = [across[0], across[1], across[2]]
  const [wx, wy, wz] = [across[3], across[4], across[5]]
  let rounds = 0
  for (let i = begin; i < end; i++) {
    const c = corners[i]
    const n = c % 3 === 2 ? c - 2 : c + 1
    const m = n % 3 === 2 ? n - 2 : n + 1
    const o = 3 * ids[c]
    const s = 3 * ids[n]
    const e = 3 * ids[m]
    let dx = p[s] - p[o]
    let dy = p[s + 1] - p[o + 1]
    let dz = p[s + 2] - p[o + 2]
    const x = dx * ux + dy * uy + dz * uz
    const y = dx * wx + dy * wy + dz * wz
    const far = dx * dx + dy * dy + dz * dz
    dx = p[e] - p[o]
    dy = p[e + 1] - p[o + 1]
    dz = p[e + 2] - p[o + 2]
    const z = dx * ux + dy * uy + dz * uz
    const w = dx * wx + dy * wy + dz * wz
    if (!(x * w - y * z > SURE * Math.sqrt(far * (dx * dx + dy * dy + dz * dz)))) return false
    if (y < 0 && w >= 0) rounds++
  }
  return rounds === 1
}
