import { orient2d, orient3d } from 'robust-predicates'

type Positions = ArrayLike<number>

// corners and sides of the pair in hand, reused: this runs some hundred thousand times a check
const a = [0, 0, 0]
const b = [0, 0, 0]
const sideA = [0, 0, 0]
const sideB = [0, 0, 0]

/**
 * Whether two triangles of a mesh cross: an edge of one passes through the other, or they overlap in one plane. Signs are
 * exact (Shewchuk's predicates), so there is no tolerance. Triangles that share a vertex or an edge may meet there and
 * nowhere else; others that only touch without passing through do not cross. Where many pairs are asked about, `planes` (see planesOf) spares most of
 * the work; the answer is the same.
 */
export function trianglesCross(p: Positions, ids: ArrayLike<number>, s: number, t: number, planes?: Float64Array): boolean {
  if (planes && surelyApart(p, ids, s, t, planes)) return false
  let shared = 0
  for (let i = 0; i < 3; i++) {
    a[i] = ids[3 * s + i]
    b[i] = ids[3 * t + i]
  }
  for (let i = 0; i < 3; i++) if (isCorner(a, b[i])) shared++
  if (shared === 3) return true
  if (inOneFlat(p)) return overlapInPlane(p, a, b)
  sidesOf(p, a, b, sideB)
  if (sideB[0] === 0 && sideB[1] === 0 && sideB[2] === 0) return overlapInPlane(p, a, b)
  // sharing an edge, they leave it in different planes; otherwise both must reach through the other's plane
  if (shared === 2 || onOneSide(sideB)) return false
  sidesOf(p, b, a, sideA)
  if (onOneSide(sideA)) return false
  return edgesPass(p, b, sideB, a, shared) || edgesPass(p, a, sideA, b, shared)
}

/** Whether the pair in hand lies in one plane square to an axis. */
function inOneFlat(p: Positions): boolean {
  for (let k = 0; k < 3; k++) {
    const at = p[3 * a[0] + k]
    if (p[3 * a[1] + k] === at && p[3 * a[2] + k] === at && p[3 * b[0] + k] === at && p[3 * b[1] + k] === at && p[3 * b[2] + k] === at) return true
  }
  return false
}

const isCorner = (t: readonly number[], v: number): boolean => v === t[0] || v === t[1] || v === t[2]

/** Whether no corner lies on one side of the plane while another lies on the other. */
const onOneSide = (sides: readonly number[]): boolean => (sides[0] >= 0 && sides[1] >= 0 && sides[2] >= 0) || (sides[0] <= 0 && sides[1] <= 0 && sides[2] <= 0)

/** What rounding can do to an orientation, as a share of the sum of its terms (Shewchuk's bound A for three dimensions). */
const ROUNDING = (7 + 56 * 2 ** -53) * 2 ** -53

/** Of each triangle its normal, and how large the terms of it are: six numbers a triangle. Good as long as no vertex moves. */
export function planesOf(p: Positions, ids: ArrayLike<number>): Float64Array {
  const planes = new Float64Array(2 * ids.length)
  for (let t = 0; 3 * t < ids.length; t++) putPlane(planes, p, ids, t)
  return planes
}

/** Puts what `planesOf` tells of one triangle into its place there. */
export function putPlane(planes: Float64Array, p: Positions, ids: ArrayLike<number>, t: number): void {
  const i = 3 * ids[3 * t]
  const j = 3 * ids[3 * t + 1]
  const k = 3 * ids[3 * t + 2]
  const ux = p[j] - p[i]
  const uy = p[j + 1] - p[i + 1]
  const uz = p[j + 2] - p[i + 2]
  const vx = p[k] - p[i]
  const vy = p[k + 1] - p[i + 1]
  const vz = p[k + 2] - p[i + 2]
  const o = 6 * t
  planes[o] = uy * vz - uz * vy
  planes[o + 1] = uz * vx - ux * vz
  planes[o + 2] = ux * vy - uy * vx
  planes[o + 3] = ROUNDING * (Math.abs(uy * vz) + Math.abs(uz * vy))
  planes[o + 4] = ROUNDING * (Math.abs(uz * vx) + Math.abs(ux * vz))
  planes[o + 5] = ROUNDING * (Math.abs(ux * vy) + Math.abs(uy * vx))
}

/** Whether floating point alone can tell that two triangles do not cross: what remains is a small share of all pairs that meet in a sound mesh. */
function surelyApart(p: Positions, ids: ArrayLike<number>, s: number, t: number, planes: Float64Array): boolean {
  let shared = 0
  let at = 0
  for (let i = 3 * s; i < 3 * s + 3; i++)
    for (let j = 3 * t; j < 3 * t + 3; j++)
      if (ids[i] === ids[j]) {
        shared++
        at = i
      }
  if (shared === 3) return false
  if (clearOf(p, ids, s, t, planes)) return true
  if (shared === 2) return flatOver(ids, s, t, planes)
  return clearOf(p, ids, t, s, planes) || (shared === 1 && partedAt(p, ids, s, t, ids[at]))
}

/** Whether all corners of triangle t but those they share lie on one side of the plane of s. */
function clearOf(p: Positions, ids: ArrayLike<number>, s: number, t: number, planes: Float64Array): boolean {
  const a = ids[3 * s]
  const b = ids[3 * s + 1]
  const c = ids[3 * s + 2]
  const o = 6 * s
  const x0 = p[3 * a]
  const y0 = p[3 * a + 1]
  const z0 = p[3 * a + 2]
  let way = 0
  for (let i = 3 * t; i < 3 * t + 3; i++) {
    const v = ids[i]
    if (v === a || v === b || v === c) continue
    const x = p[3 * v] - x0
    const y = p[3 * v + 1] - y0
    const z = p[3 * v + 2] - z0
    const off = planes[o] * x + planes[o + 1] * y + planes[o + 2] * z
    const unsure = planes[o + 3] * Math.abs(x) + planes[o + 4] * Math.abs(y) + planes[o + 5] * Math.abs(z)
    const side = off > unsure ? 1 : -off > unsure ? -1 : 0
    if (side === 0 || side === -way) return false
    way = side
  }
  return way !== 0
}

/** Whether two triangles that run along a side opposite ways look the same way: then they lie on different sides of it. */
function flatOver(ids: ArrayLike<number>, s: number, t: number, planes: Float64Array): boolean {
  let opposite = false
  for (let i = 0; i < 3 && !opposite; i++)
    for (let j = 0; j < 3; j++) if (ids[3 * s + i] === ids[3 * t + ((j + 1) % 3)] && ids[3 * s + ((i + 1) % 3)] === ids[3 * t + j]) opposite = true
  if (!opposite) return false
  let dot = 0
  let unsure = 0
  for (let k = 0; k < 3; k++) {
    const [m, n] = [planes[6 * s + k], planes[6 * t + k]]
    const [dm, dn] = [planes[6 * s + 3 + k], planes[6 * t + 3 + k]]
    dot += m * n
    unsure += (Math.abs(m) + dm) * dn + (Math.abs(n) + dn) * dm + Math.abs(m * n) * ROUNDING
  }
  return dot > 2 * unsure
}

/** Whether the plane through the vertex two triangles share, square to what lies between their middles as seen from there, parts them. */
function partedAt(p: Positions, ids: ArrayLike<number>, s: number, t: number, shared: number): boolean {
  const o = 3 * shared
  let mx = 0
  let my = 0
  let mz = 0
  for (let of = 0; of < 2; of++) {
    const first = 3 * (of === 0 ? s : t)
    let x = 0
    let y = 0
    let z = 0
    for (let i = first; i < first + 3; i++) {
      x += p[3 * ids[i]] - p[o]
      y += p[3 * ids[i] + 1] - p[o + 1]
      z += p[3 * ids[i] + 2] - p[o + 2]
    }
    const size = (of === 0 ? 1 : -1) / Math.sqrt(x * x + y * y + z * z)
    mx += x * size
    my += y * size
    mz += z * size
  }
  for (let of = 0; of < 2; of++) {
    const first = 3 * (of === 0 ? s : t)
    for (let i = first; i < first + 3; i++) {
      if (ids[i] === shared) continue
      const x = mx * (p[3 * ids[i]] - p[o])
      const y = my * (p[3 * ids[i] + 1] - p[o + 1])
      const z = mz * (p[3 * ids[i] + 2] - p[o + 2])
      const off = of === 0 ? x + y + z : -x - y - z
      if (!(off > ROUNDING * (Math.abs(x) + Math.abs(y) + Math.abs(z)))) return false
    }
  }
  return true
}

/** On which side of triangle t each corner of u lies; 0 for corners they share. */
function sidesOf(p: Positions, t: number[], u: number[], out: number[]): void {
  for (let i = 0; i < 3; i++) out[i] = isCorner(t, u[i]) ? 0 : side(p, t, u[i])
}

/** Positive when v lies behind the triangle's plane as its corners run; exact in sign. */
export function side(p: Positions, t: readonly number[], v: number): number {
  const [i, j, k, l] = [3 * t[0], 3 * t[1], 3 * t[2], 3 * v]
  // most that lies in one plane lies square to an axis, where the sign is that of a height and a turn
  for (let axis = 0; axis < 3; axis++) {
    const at = p[i + axis]
    if (p[j + axis] !== at || p[k + axis] !== at) continue
    const over = p[l + axis] - at
    if (over === 0) return 0
    const [x, y] = axis === 0 ? [1, 2] : axis === 1 ? [2, 0] : [0, 1]
    const round = orient2d(p[i + x], p[i + y], p[j + x], p[j + y], p[k + x], p[k + y])
    return over > 0 ? round : -round
  }
  return orient3d(p[i], p[i + 1], p[i + 2], p[j], p[j + 1], p[j + 2], p[k], p[k + 1], p[k + 2], p[l], p[l + 1], p[l + 2])
}

/** Whether an edge of `edges`' triangle, whose corners lie on the given sides of `face`, passes through it. */
function edgesPass(p: Positions, edges: number[], sides: number[], face: number[], shared: number): boolean {
  for (let i = 0; i < 3; i++) {
    const j = (i + 1) % 3
    if (sides[i] * sides[j] >= 0) continue
    const [u, v] = [edges[i], edges[j]]
    const x = side(p, [u, v, face[0]], face[1])
    const y = side(p, [u, v, face[1]], face[2])
    const z = side(p, [u, v, face[2]], face[0])
    const through = (x >= 0 && y >= 0 && z >= 0) || (x <= 0 && y <= 0 && z <= 0)
    // through a corner both share is no crossing; grazing an edge is one only for triangles that do not touch otherwise
    if (through && (shared === 0 || (x !== 0 && y !== 0 && z !== 0))) return true
  }
  return false
}

/**
 * Whether two triangles of one plane have more than a border in common. Two convex shapes have not exactly when a side of
 * one has the whole other on its outer side (or on its line).
 */
function overlapInPlane(p: Positions, a: number[], b: number[]): boolean {
  // seen along the axis in which the plane's normal is longest
  const [o, u, v] = [3 * a[0], 3 * a[1], 3 * a[2]]
  const [ux, uy, uz] = [p[u] - p[o], p[u + 1] - p[o + 1], p[u + 2] - p[o + 2]]
  const [vx, vy, vz] = [p[v] - p[o], p[v + 1] - p[o + 1], p[v + 2] - p[o + 2]]
  const nx = Math.abs(uy * vz - uz * vy)
  const ny = Math.abs(uz * vx - ux * vz)
  const nz = Math.abs(ux * vy - uy * vx)
  const i = nz >= nx && nz >= ny ? 0 : nx >= ny ? 1 : 2
  const j = (i + 1) % 3
  const turnA = turn(p, i, j, a[0], a[1], a[2])
  const turnB = turn(p, i, j, b[0], b[1], b[2])
  if (turnA === 0 || turnB === 0) return false
  return !partedBySide(p, i, j, a, turnA, b) && !partedBySide(p, i, j, b, turnB, a)
}

function turn(p: Positions, i: number, j: number, u: number, v: number, w: number): number {
  return orient2d(p[3 * u + i], p[3 * u + j], p[3 * v + i], p[3 * v + j], p[3 * w + i], p[3 * w + j])
}

/** Whether a side of t, which turns as `sense`, has all corners of u on its outer side or its line. */
function partedBySide(p: Positions, i: number, j: number, t: number[], sense: number, u: number[]): boolean {
  for (let k = 0; k < 3; k++) {
    const [from, to] = [t[k], t[(k + 1) % 3]]
    if (turn(p, i, j, from, to, u[0]) * sense <= 0 && turn(p, i, j, from, to, u[1]) * sense <= 0 && turn(p, i, j, from, to, u[2]) * sense <= 0) return true
  }
  return false
}
