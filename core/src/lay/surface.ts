import type { Point } from '../check/rays'
import { refineTriangles, type TooLong } from '../solid/refine'
import { oppositesOf } from '../check/edges'
import { triangleMeets } from '../solid/in-box'
import type { Solid } from '../solid/solid'

/** Part of a solid's surface: half-edge h of triangle t is 3t, 3t + 1 or 3t + 2 and runs from its own corner to the next one. */
export interface Surface {
  /** x, y, z per vertex, mm */
  readonly positions: Float64Array
  readonly indices: Uint32Array
  /** the half-edge that runs the other way, −1 at the border of the part */
  readonly opposite: Int32Array
}

export const nextOf = (h: number): number => (h % 3 === 2 ? h - 2 : h + 1)
export const previousOf = (h: number): number => (h % 3 === 0 ? h + 2 : h - 1)

type Triangles = Pick<Surface, 'positions' | 'indices'>

const MOST_TRIANGLES = 1_500_000

const surfaceOf = ({ positions, indices }: Triangles): Surface => ({ positions, indices, opposite: oppositesOf(indices) })

/** Refining adds vertices at the end; numbered by their triangles what lies together is together in memory, and what goes over all of it several times twice as fast. */
const refinedSurface = ({ positions, indices }: Triangles): Surface => surfaceOf(partOf(positions, indices, () => true))

/** Some triangles of a mesh, with the vertices they use, numbered in the order in which triangles name them. */
function partOf(positions: Float64Array, indices: Uint32Array, wanted: (corner: number) => boolean): Triangles {
  const vertexOf = new Int32Array(positions.length / 3).fill(-1)
  const kept = new Uint32Array(indices.length)
  const vertices = new Uint32Array(positions.length / 3)
  let [count, used] = [0, 0]
  for (let i = 0; i < indices.length; i += 3) {
    if (!wanted(i)) continue
    for (let k = 0; k < 3; k++) {
      const v = indices[i + k]
      if (vertexOf[v] < 0) {
        vertexOf[v] = used
        vertices[used++] = v
      }
      kept[count++] = vertexOf[v]
    }
  }
  const part = new Float64Array(3 * used)
  for (let i = 0; i < used; i++) for (let k = 0; k < 3; k++) part[3 * i + k] = positions[3 * vertices[i] + k]
  return { positions: part, indices: kept.slice(0, count) }
}

/** What of a solid lies within a cube about a place, `reach` mm each way. */
export function surfaceNear({ positions: p, indices: ids }: Pick<Solid, 'positions' | 'indices'>, at: Point, reach: number): Surface {
  const box = [at[0] - reach, at[1] - reach, at[2] - reach, at[0] + reach, at[1] + reach, at[2] + reach]
  return surfaceOf(partOf(p, ids, (i) => triangleMeets(p, ids, i / 3, box)))
}

/** Those triangles of a solid that are wanted by their corners, parted while a side is too long. Undefined where that would be too many. */
export function surfaceWhere(
  { positions, indices }: Pick<Solid, 'positions' | 'indices'>,
  wanted: (a: number, b: number, c: number) => boolean,
  tooLong: TooLong,
): Surface | undefined {
  const part = partOf(positions, indices, (i) => wanted(indices[i], indices[i + 1], indices[i + 2]))
  const fine = refineTriangles(part, tooLong, { most: MOST_TRIANGLES })
  return fine && refinedSurface(fine)
}

/** Cells of space, half as far across as `reach`, that lie within it of any of some points. */
class Cells {
  private readonly marked = new Set<number>()
  private readonly size: number

  constructor(points: Iterable<Point>, reach: number) {
    this.size = reach / 2
    let last = -1
    for (const p of points) {
      const [i, j, k] = p.map((v) => Math.floor(v / this.size))
      const key = this.key(i, j, k)
      if (key === last) continue
      last = key
      for (let a = -2; a <= 2; a++) for (let b = -2; b <= 2; b++) for (let c = -2; c <= 2; c++) this.marked.add(this.key(i + a, j + b, k + c))
    }
  }

  private key(i: number, j: number, k: number): number {
    return (i + 65_536) * 17_179_869_184 + (j + 65_536) * 131_072 + (k + 65_536)
  }

  /** Whether the line between two places comes through a cell that is marked. */
  passes(p: Float64Array, a: number, b: number): boolean {
    const { size } = this
    const [dx, dy, dz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]]
    const parts = Math.min(256, Math.ceil(Math.sqrt(dx * dx + dy * dy + dz * dz) / size))
    for (let i = 0; i <= parts; i++) {
      const t = parts === 0 ? 0 : i / parts
      if (this.marked.has(this.key(Math.floor((p[a] + t * dx) / size), Math.floor((p[a + 1] + t * dy) / size), Math.floor((p[a + 2] + t * dz) / size))))
        return true
    }
    return false
  }

  /** Whether a box meets a cell that is marked; a very large box does. */
  meets(x0: number, y0: number, z0: number, x1: number, y1: number, z1: number): boolean {
    const { size } = this
    const [i0, i1, j0, j1, k0, k1] = [x0, x1, y0, y1, z0, z1].map((v) => Math.floor(v / size))
    if ((i1 - i0 + 1) * (j1 - j0 + 1) * (k1 - k0 + 1) > 4096) return true
    for (let i = i0; i <= i1; i++) for (let j = j0; j <= j1; j++) for (let k = k0; k <= k1; k++) if (this.marked.has(this.key(i, j, k))) return true
    return false
  }
}

/**
 * What of a surface lies nearer to some points than `reach` mm, and a little more, its triangles parted there until no side is longer than
 * `step` mm. The points stand no further apart than half the reach. Undefined where that would be more than `most` triangles.
 */
export function surfaceAlong(
  { positions, indices }: Surface,
  points: Iterable<Point>,
  reach: number,
  step: number,
  most = MOST_TRIANGLES,
): Surface | undefined {
  const cells = new Cells(points, reach)
  const part = partOf(positions, indices, (i) => {
    const [a, b, c] = [3 * indices[i], 3 * indices[i + 1], 3 * indices[i + 2]]
    const low = (k: number) => Math.min(positions[a + k], positions[b + k], positions[c + k])
    const high = (k: number) => Math.max(positions[a + k], positions[b + k], positions[c + k])
    return cells.meets(low(0), low(1), low(2), high(0), high(1), high(2))
  })
  const square = step * step
  const fine = refineTriangles(
    part,
    (p, a, b) => (p[a] - p[b]) ** 2 + (p[a + 1] - p[b + 1]) ** 2 + (p[a + 2] - p[b + 2]) ** 2 > square && cells.passes(p, a, b),
    { most },
  )
  return fine && refinedSurface(fine)
}

/** Unit normals of the vertices, weighted by the areas of the triangles about them; x, y, z each. */
export function vertexNormals(positions: Float64Array, indices: Uint32Array): Float64Array {
  const normals = new Float64Array(positions.length)
  for (let i = 0; i < indices.length; i += 3) {
    const n = areaNormal(positions, indices, i / 3)
    for (let j = i; j < i + 3; j++) for (let k = 0; k < 3; k++) normals[3 * indices[j] + k] += n[k]
  }
  for (let i = 0; i < normals.length; i += 3) {
    const l = Math.hypot(normals[i], normals[i + 1], normals[i + 2]) || 1
    for (let k = 0; k < 3; k++) normals[i + k] /= l
  }
  return normals
}

/** The normal of a triangle, as long as twice its area. */
export function areaNormal(p: ArrayLike<number>, indices: ArrayLike<number>, t: number): [number, number, number] {
  const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
  const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]]
  const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]]
  return [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx]
}

export interface Nearest {
  readonly triangle: number
  readonly point: Point
  /** of the triangle's corners */
  readonly weights: readonly [number, number, number]
  readonly distance: number
}

/** The place of a surface that is nearest to a point (Ericson, "Real-time collision detection", 2005, 5.1.5); undefined where there is none. */
export function nearestPlace({ positions: p, indices }: Pick<Surface, 'positions' | 'indices'>, point: Point): Nearest | undefined {
  let best = Infinity
  let found: { triangle: number; weights: readonly [number, number, number] } | undefined
  for (let i = 0; i < indices.length; i += 3) {
    const [a, b, c] = [3 * indices[i], 3 * indices[i + 1], 3 * indices[i + 2]]
    // no nearer than its box
    let far = 0
    for (let k = 0; k < 3; k++) {
      const [u, v, w] = [p[a + k], p[b + k], p[c + k]]
      const [lo, hi] = [u < v ? (u < w ? u : w) : v < w ? v : w, u > v ? (u > w ? u : w) : v > w ? v : w]
      const d = point[k] < lo ? lo - point[k] : point[k] > hi ? point[k] - hi : 0
      far += d * d
    }
    if (far >= best) continue
    const weights = nearestWeights(p, a, b, c, point)
    let square = 0
    for (let k = 0; k < 3; k++) square += (weights[0] * p[a + k] + weights[1] * p[b + k] + weights[2] * p[c + k] - point[k]) ** 2
    if (square >= best) continue
    best = square
    found = { triangle: i / 3, weights }
  }
  return found && { ...found, point: atWeights(p, indices, found.triangle, found.weights), distance: Math.sqrt(best) }
}

function nearestWeights(p: Float64Array, a: number, b: number, c: number, q: Point): readonly [number, number, number] {
  const to = (i: number, j: number, k: number) =>
    (p[j] - p[i]) * (q[0] - p[k]) + (p[j + 1] - p[i + 1]) * (q[1] - p[k + 1]) + (p[j + 2] - p[i + 2]) * (q[2] - p[k + 2])
  const [d1, d2] = [to(a, b, a), to(a, c, a)]
  if (d1 <= 0 && d2 <= 0) return [1, 0, 0]
  const [d3, d4] = [to(a, b, b), to(a, c, b)]
  if (d3 >= 0 && d4 <= d3) return [0, 1, 0]
  const vc = d1 * d4 - d3 * d2
  if (vc <= 0 && d1 >= 0 && d3 <= 0) return [1 - d1 / (d1 - d3), d1 / (d1 - d3), 0]
  const [d5, d6] = [to(a, b, c), to(a, c, c)]
  if (d6 >= 0 && d5 <= d6) return [0, 0, 1]
  const vb = d5 * d2 - d1 * d6
  if (vb <= 0 && d2 >= 0 && d6 <= 0) return [1 - d2 / (d2 - d6), 0, d2 / (d2 - d6)]
  const va = d3 * d6 - d5 * d4
  if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
    const w = (d4 - d3) / (d4 - d3 + (d5 - d6))
    return [0, 1 - w, w]
  }
  const sum = va + vb + vc
  // a triangle without an area: any of its corners
  if (!(sum > 0)) return [1, 0, 0]
  return [va / sum, vb / sum, vc / sum]
}

/** A value of the vertices, three numbers each, at weights of a triangle's corners. */
export function atWeights(
  values: ArrayLike<number>,
  indices: ArrayLike<number>,
  t: number,
  [u, v, w]: readonly [number, number, number],
): [number, number, number] {
  const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
  return [0, 1, 2].map((k) => u * values[a + k] + v * values[b + k] + w * values[c + k]) as [number, number, number]
}

/** The vertices beside each: `list[start[v]…start[v + 1] − 1]`; where the surface ends some are named from one side only. */
export function neighboursOf({ indices, positions }: Surface): { readonly start: Uint32Array; readonly list: Uint32Array } {
  const start = new Uint32Array(positions.length / 3 + 1)
  for (let h = 0; h < indices.length; h++) start[indices[h] + 1]++
  for (let v = 0; v + 1 < start.length; v++) start[v + 1] += start[v]
  const list = new Uint32Array(indices.length)
  const at = start.slice()
  for (let h = 0; h < indices.length; h++) list[at[indices[h]]++] = indices[nextOf(h)]
  return { start, list }
}

export const cross = (a: Point, b: Point): [number, number, number] => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]]
export const dot = (a: Point, b: Point): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2]
export const unit = (a: Point): [number, number, number] => {
  const l = Math.hypot(a[0], a[1], a[2]) || 1
  return [a[0] / l, a[1] / l, a[2] / l]
}
/** a without what it has of the unit vector n. */
export const across = (a: Point, n: Point): [number, number, number] => {
  const d = dot(a, n)
  return [a[0] - d * n[0], a[1] - d * n[1], a[2] - d * n[2]]
}
