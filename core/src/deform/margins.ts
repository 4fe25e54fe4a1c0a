import { cornersAbout } from '../check/corners'
import { putAcross } from '../check/stars'
import { type BoxTree, buildBoxTree, lastNode } from '../check/tree'
import type { Solid } from '../solid/solid'

/**
 * How far the triangles of a solid keep from each other at rest: measured once, it tells of most deformations that nothing can cross without
 * looking at pairs of triangles again (see stays-apart.ts). Lengths in mm, all rather too small than too large, or too large for sides.
 */
export interface Margins {
  readonly tree: Pick<BoxTree, 'boxes' | 'first' | 'count' | 'right' | 'order'>
  /** of each node of the tree one of its vertices */
  readonly vertex: Uint32Array
  /** the longest side of its triangles */
  readonly long: Float64Array
  /** how near its triangles come to any that they have no vertex in common with; nothing further than a share of their size is looked for */
  readonly apart: Float64Array
  /** of the stars of its vertices the least margin, and the longest side that starts at one */
  readonly star: Float64Array
  readonly reach: Float64Array
  /** the same two of each vertex */
  readonly starAt: Float64Array
  readonly reachAt: Float64Array
  /** where the corners at each vertex begin in the list of them, one more than there are vertices */
  readonly first: Uint32Array
  readonly corners: Uint32Array
}

/** Nothing further off than this share of the longest side there is looked for. */
const LOOKED_FOR = 0.1
/** Margins of stars are slim below this share of how far they reach; so many of them, as a share, may be. */
const SLIM = 0.02
const MOST_SLIM = 0.05
/** A hair less, for sums are rounded. */
const HAIR = 1 - 1e-9

/** The margins of a closed surface; undefined where too many of its stars hardly have any, as with slivers. */
export function marginsOf({ positions: p, indices: ids }: Pick<Solid, 'positions' | 'indices'>): Margins | undefined {
  const stars = starsOf(p, ids)
  const vertices = p.length / 3
  let slim = 0
  for (let v = 0; v < vertices; v++) if (stars.starAt[v] < SLIM * stars.reachAt[v]) slim++
  if (slim > MOST_SLIM * vertices) return undefined
  const tree = buildBoxTree(p, ids)
  const { count, right, order, first: from } = tree
  const nodes = lastNode(count, right) + 1
  const vertex = new Uint32Array(nodes)
  const [long, star, reach] = [new Float64Array(nodes), new Float64Array(nodes), new Float64Array(nodes)]
  // children come after their node
  for (let node = nodes - 1; node >= 0; node--) {
    if (count[node] === 0) {
      const [a, b] = [node + 1, right[node]]
      vertex[node] = vertex[a]
      long[node] = Math.max(long[a], long[b])
      star[node] = Math.min(star[a], star[b])
      reach[node] = Math.max(reach[a], reach[b])
      continue
    }
    vertex[node] = ids[3 * order[from[node]]]
    star[node] = Infinity
    for (let i = from[node]; i < from[node] + count[node]; i++) {
      const h = 3 * order[i]
      for (let k = 0; k < 3; k++) {
        const v = ids[h + k]
        long[node] = Math.max(long[node], Math.sqrt(square(p, v, ids[k === 2 ? h : h + k + 1])))
        star[node] = Math.min(star[node], stars.starAt[v])
        reach[node] = Math.max(reach[node], stars.reachAt[v])
      }
    }
  }
  const apart = nearestOf(p, ids, tree, long)
  // no more of the tree is held than is asked for again
  const held = { boxes: tree.boxes.slice(0, 6 * nodes), first: from.slice(0, nodes), count: count.slice(0, nodes), right: right.slice(0, nodes), order }
  return { tree: held, vertex, long, apart, star, reach, ...stars }
}

const square = (p: Float64Array, a: number, b: number) => (p[3 * a] - p[3 * b]) ** 2 + (p[3 * a + 1] - p[3 * b + 1]) ** 2 + (p[3 * a + 2] - p[3 * b + 2]) ** 2

/**
 * The margin of each vertex's star: moved by less than half of it each, and the vertex not at all, the other corners of its triangles cannot make two of them meet in more than
 * they do. Seen square to their mean normal, triangles that go round the vertex once are sectors; a point on the far side of one is no nearer to another sector than that far
 * side's distance from the vertex, times the sine of the narrowest angle. Nought where they do not go round once.
 */
function starsOf(p: Float64Array, ids: Uint32Array): Pick<Margins, 'starAt' | 'reachAt' | 'first' | 'corners'> {
  const vertices = p.length / 3
  const { first, corners } = cornersAbout(ids, vertices)
  const normals = unitNormals(p, ids)
  const [starAt, reachAt] = [new Float64Array(vertices), new Float64Array(vertices)]
  for (let v = 0; v < vertices; v++) {
    let far = 0
    let [nx, ny, nz] = [0, 0, 0]
    for (let i = first[v]; i < first[v + 1]; i++) {
      const c = corners[i]
      const t = c - (c % 3)
      nx += normals[t]
      ny += normals[t + 1]
      nz += normals[t + 2]
      far = Math.max(far, square(p, v, ids[c % 3 === 2 ? t : c + 1]))
    }
    reachAt[v] = Math.sqrt(far)
    const size = Math.sqrt(nx * nx + ny * ny + nz * nz)
    if (size > 1e-3) starAt[v] = HAIR * sectorMargin(p, ids, corners, first[v], first[v + 1], nx / size, ny / size, nz / size)
  }
  return { starAt, reachAt, first, corners }
}

const across = new Float64Array(6)

function sectorMargin(p: Float64Array, ids: Uint32Array, corners: Uint32Array, begin: number, end: number, nx: number, ny: number, nz: number): number {
  putAcross(nx, ny, nz, across)
  const [ux, uy, uz] = [across[0], across[1], across[2]]
  const [wx, wy, wz] = [across[3], across[4], across[5]]
  const o = 3 * ids[corners[begin]]
  let rounds = 0
  let near2 = Infinity
  let sine2 = 1
  for (let i = begin; i < end; i++) {
    const c = corners[i]
    const t = c - (c % 3)
    const a = 3 * ids[t + ((c + 1) % 3)]
    const b = 3 * ids[t + ((c + 2) % 3)]
    let [dx, dy, dz] = [p[a] - p[o], p[a + 1] - p[o + 1], p[a + 2] - p[o + 2]]
    const [ax, ay] = [dx * ux + dy * uy + dz * uz, dx * wx + dy * wy + dz * wz]
    dx = p[b] - p[o]
    dy = p[b + 1] - p[o + 1]
    dz = p[b + 2] - p[o + 2]
    const [bx, by] = [dx * ux + dy * uy + dz * uz, dx * wx + dy * wy + dz * wz]
    const cross = ax * by - ay * bx
    if (!(cross > 0)) return 0
    if (ay < 0 && by >= 0) rounds++
    const [a2, b2, dot] = [ax * ax + ay * ay, bx * bx + by * by, ax * bx + ay * by]
    const side2 = a2 + b2 - 2 * dot
    // the foot of the height may lie beyond an end of the far side
    near2 = Math.min(near2, a2, b2, dot < a2 && dot < b2 ? (cross * cross) / side2 : Infinity)
    if (dot > 0) sine2 = Math.min(sine2, (cross * cross) / (a2 * b2))
  }
  return rounds === 1 ? Math.sqrt(near2 * sine2) : 0
}

/** Of each triangle its normal, of length one or nought. */
function unitNormals(p: Float64Array, ids: Uint32Array): Float64Array {
  const out = new Float64Array(ids.length)
  for (let t = 0; t < ids.length; t += 3) {
    const [a, b, c] = [3 * ids[t], 3 * ids[t + 1], 3 * ids[t + 2]]
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]]
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]]
    const [x, y, z] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx]
    const size = Math.sqrt(x * x + y * y + z * z) || 1
    out[t] = x / size
    out[t + 1] = y / size
    out[t + 2] = z / size
  }
  return out
}

/** Of each node how near its triangles come to those that they have no vertex in common with. */
function nearestOf(p: Float64Array, ids: Uint32Array, { boxes, first, count, right, order, triangleBoxes }: BoxTree, long: Float64Array): Float64Array {
  const apart = long.map((side) => LOOKED_FOR * side)
  const gap = new Gap(p, ids)
  const stack = [0, 0]
  while (stack.length > 0) {
    const b = stack.pop() as number
    const a = stack.pop() as number
    const enough = Math.max(apart[a], apart[b])
    if (a !== b && boxGap(boxes, 6 * a, boxes, 6 * b) >= enough) continue
    if (count[a] === 0) {
      if (a === b) stack.push(a + 1, a + 1, right[a], right[a], a + 1, right[a])
      else if (count[b] > 0 || long[a] >= long[b]) stack.push(a + 1, b, right[a], b)
      else stack.push(a, b + 1, a, right[b])
      continue
    }
    if (count[b] === 0) {
      stack.push(a, b + 1, a, right[b])
      continue
    }
    for (let i = first[a]; i < first[a] + count[a]; i++)
      for (let j = a === b ? i + 1 : first[b]; j < first[b] + count[b]; j++) {
        const least = Math.max(apart[a], apart[b])
        if (boxGap(triangleBoxes, 6 * i, triangleBoxes, 6 * j) >= least || haveVertex(ids, order[i], order[j])) continue
        const between = gap.between(order[i], order[j], least)
        if (between < apart[a]) apart[a] = between
        if (between < apart[b]) apart[b] = between
      }
  }
  for (let node = apart.length - 1; node >= 0; node--) apart[node] = count[node] === 0 ? Math.min(apart[node + 1], apart[right[node]]) : HAIR * apart[node]
  return apart
}

/** The widest gap between two boxes along an axis; below nought where there is none. */
export const boxGap = (a: Float64Array, i: number, b: Float64Array, j: number): number =>
  Math.max(a[i] - b[j + 3], b[j] - a[i + 3], a[i + 1] - b[j + 4], b[j + 1] - a[i + 4], a[i + 2] - b[j + 5], b[j + 2] - a[i + 5])

/** Whether two triangles have a vertex in common. */
export function haveVertex(ids: Uint32Array, s: number, t: number): boolean {
  const [a, b, c] = [ids[3 * t], ids[3 * t + 1], ids[3 * t + 2]]
  for (let i = 3 * s; i < 3 * s + 3; i++) if (ids[i] === a || ids[i] === b || ids[i] === c) return true
  return false
}

/** How far triangles are apart, at least: the widest gap between their shadows on some lines. */
class Gap {
  private readonly a = new Float64Array(9)
  private readonly b = new Float64Array(9)

  constructor(
    private readonly p: Float64Array,
    private readonly ids: Uint32Array,
  ) {}

  /** Looks no further once they are that far apart, mm. */
  between(s: number, t: number, enough: number): number {
    const { a, b, p, ids } = this
    for (let k = 0; k < 3; k++)
      for (let x = 0; x < 3; x++) {
        a[3 * k + x] = p[3 * ids[3 * s + k] + x]
        b[3 * k + x] = p[3 * ids[3 * t + k] + x]
      }
    // from middle to middle
    let widest = this.along(a[0] + a[3] + a[6] - b[0] - b[3] - b[6], a[1] + a[4] + a[7] - b[1] - b[4] - b[7], a[2] + a[5] + a[8] - b[2] - b[5] - b[8])
    for (let which = 0; which < 2 && widest < enough; which++) {
      const of = which === 0 ? a : b
      const [ux, uy, uz] = [of[3] - of[0], of[4] - of[1], of[5] - of[2]]
      const [vx, vy, vz] = [of[6] - of[0], of[7] - of[1], of[8] - of[2]]
      const [nx, ny, nz] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx]
      widest = Math.max(widest, this.along(nx, ny, nz))
      // square to each side, within its plane
      for (let k = 0; k < 3 && widest < enough; k++) {
        const [i, j] = [3 * k, k === 2 ? 0 : 3 * k + 3]
        const [dx, dy, dz] = [of[j] - of[i], of[j + 1] - of[i + 1], of[j + 2] - of[i + 2]]
        widest = Math.max(widest, this.along(dy * nz - dz * ny, dz * nx - dx * nz, dx * ny - dy * nx))
      }
    }
    return Math.max(0, widest)
  }

  private along(x: number, y: number, z: number): number {
    const { a, b } = this
    const size = Math.sqrt(x * x + y * y + z * z)
    if (!(size > 0)) return 0
    const [a0, a1, a2] = [a[0] * x + a[1] * y + a[2] * z, a[3] * x + a[4] * y + a[5] * z, a[6] * x + a[7] * y + a[8] * z]
    const [b0, b1, b2] = [b[0] * x + b[1] * y + b[2] * z, b[3] * x + b[4] * y + b[5] * z, b[6] * x + b[7] * y + b[8] * z]
    return Math.max(Math.min(a0, a1, a2) - Math.max(b0, b1, b2), Math.min(b0, b1, b2) - Math.max(a0, a1, a2)) / size
  }
}
