import { cornersAbout } from '../check/corners'
import { putAcross } from '../check/stars'
import { type BoxTree, buildBoxTree, forEachMeetingPair, lastNode } from '../check/tree'
import type { Solid } from '../solid/solid'
import { longer } from '../solid/vertex-table'
import { DIRECTIONS, Parting } from './parting'

/** What a map does to lengths where it leaves them as they are: it bends a line by no more than `bend`, 1/mm, and puts what it moved on a lattice no more than `rounding` off, mm. */
export interface Straying {
  readonly bend: number
  readonly rounding: number
}

/**
 * What of a solid a map that strays no further than that could bring together: measured once, at rest, it leaves little to be looked at of most deformations
 * (see stays-apart.ts).
 */
export interface Margins {
  readonly within: Straying
  readonly tree: Pick<BoxTree, 'boxes' | 'first' | 'count' | 'right' | 'order'>
  /** of each node of the tree one of its vertices */
  readonly vertex: Uint32Array
  /** pairs of triangles that have no vertex in common and are too near each other, two numbers each, and of each pair the direction in which they are furthest apart */
  readonly near: Uint32Array
  readonly parted: Uint8Array
  /** for maps that bend no more than each of these the first so many of them are near; the strongest first */
  readonly levels: readonly { readonly bend: number; readonly pairs: number }[]
  /** vertices whose stars are not sure to stay as they are */
  readonly slim: Uint32Array
  /** of each vertex what is square to its star, not of length one: three numbers */
  readonly normals: Float32Array
  /** where the corners at each vertex begin in the list of them, one more than there are vertices */
  readonly first: Uint32Array
  readonly corners: Uint32Array
}

/** How far apart two triangles must be about which circles of one and the other radius go, mm: they stay within b r²/2 of the curved surface, and rounding adds its own. */
export const needsApart = (one: number, other: number, { bend, rounding }: Straying): number => (bend * (one * one + other * other)) / 2 + 2 * rounding

/** So many pairs, as many times as there are triangles, take a fraction of what the check takes. */
const MOST_NEAR = 6
/** A hair more, for sums are rounded. */
const HAIR = 1 + 1e-9

/** The margins of a closed surface that is sound; undefined where so much of it is so near to itself that they are of no use. */
export function marginsOf({ positions: p, indices: ids }: Pick<Solid, 'positions' | 'indices'>, within: Straying): Margins | undefined {
  const tree = buildBoxTree(p, ids)
  const pairs = nearPairs(p, ids, tree, within)
  if (!pairs) return undefined
  const { count, right, order, first, boxes } = tree
  const nodes = lastNode(count, right) + 1
  const vertex = new Uint32Array(nodes)
  // children come after their node
  for (let node = nodes - 1; node >= 0; node--) vertex[node] = count[node] === 0 ? vertex[node + 1] : ids[3 * order[first[node]]]
  // no more of the tree is held than is asked for again
  const held = { boxes: boxes.slice(0, 6 * nodes), first: first.slice(0, nodes), count: count.slice(0, nodes), right: right.slice(0, nodes), order }
  return { within, tree: held, vertex, ...pairs, ...starsOf(p, ids, within) }
}

/** Pairs of triangles that have no vertex in common and come nearer to each other than they must be apart. */
function nearPairs(p: Float64Array, ids: Uint32Array, tree: BoxTree, within: Straying): Pick<Margins, 'near' | 'parted' | 'levels'> | undefined {
  const triangles = ids.length / 3
  const radii = radiiOf(p, ids)
  let near = new Uint32Array(2 * triangles)
  let parted = new Uint8Array(triangles)
  let level = new Uint8Array(triangles)
  let found = 0
  const parting = new Parting(p, ids)
  forEachMeetingPair(
    grown(tree, (t) => HAIR * needsApart(radii[t], 0, { ...within, rounding: within.rounding / 2 })),
    (s, t) => {
      if (haveVertex(ids, s, t)) return true
      const needed = HAIR * needsApart(radii[s], radii[t], within)
      parting.take(s, t)
      let widest = 0
      let best = DIRECTIONS
      for (let direction = 0; direction < DIRECTIONS; direction++) {
        const gap = parting.along(direction)
        if (gap > needed) return true
        if (gap > widest) {
          widest = gap
          best = direction
        }
      }
      if (found === parted.length) {
        near = longer(near, 4 * found)
        parted = longer(parted, 2 * found)
        level = longer(level, 2 * found)
      }
      near[2 * found] = s
      near[2 * found + 1] = t
      level[found] = levelOf((widest - 2 * within.rounding) / needsApart(radii[s], radii[t], { bend: 1, rounding: 0 }), within.bend)
      parted[found++] = best
      return found <= MOST_NEAR * triangles
    },
  )
  return found > MOST_NEAR * triangles ? undefined : byLevel(near, parted, level.subarray(0, found), within.bend)
}

/** Pairs are told apart by how strong a bend they bear, in steps of so much, and so many of them. */
const STEP = 1.25
const LEVELS = 16

/** The last level whose bend a pair that bears `bears` does not bear; levels begin at `most` and become less. */
const levelOf = (bears: number, most: number): number =>
  bears > 0 ? Math.max(0, Math.min(LEVELS - 1, Math.floor(Math.log((HAIR * most) / bears) / Math.log(STEP)))) : LEVELS - 1

/** The same pairs, those of the last level first. */
function byLevel(near: Uint32Array, parted: Uint8Array, level: Uint8Array, most: number): Pick<Margins, 'near' | 'parted' | 'levels'> {
  const pairs = new Uint32Array(LEVELS + 1)
  for (const own of level) pairs[own]++
  for (let l = LEVELS - 1; l >= 0; l--) pairs[l] += pairs[l + 1]
  const levels = Array.from({ length: LEVELS }, (_, l) => ({ bend: most / STEP ** l, pairs: pairs[l] }))
  const out = { near: new Uint32Array(2 * level.length), parted: new Uint8Array(level.length), levels }
  for (let i = 0; i < level.length; i++) {
    const to = pairs[level[i] + 1]++
    out.near[2 * to] = near[2 * i]
    out.near[2 * to + 1] = near[2 * i + 1]
    out.parted[to] = parted[i]
  }
  return out
}

/** Of each triangle the radius of the smallest circle about it, mm: that through its corners, or where one of them is blunt that on its longest side. */
export function radiiOf(p: Float64Array, ids: Uint32Array): Float64Array {
  const out = new Float64Array(ids.length / 3)
  for (let t = 0; t < out.length; t++) {
    const [a, b, c] = [ids[3 * t], ids[3 * t + 1], ids[3 * t + 2]]
    const [x, y, z] = [square(p, a, b), square(p, b, c), square(p, c, a)]
    const [sum, most] = [x + y + z, Math.max(x, y, z)]
    // sixteen times the square of the area, by Heron
    out[t] = Math.sqrt(2 * most >= sum ? most / 4 : (x * y * z) / (sum * sum - 2 * (x * x + y * y + z * z)))
  }
  return out
}

const square = (p: Float64Array, a: number, b: number) => (p[3 * a] - p[3 * b]) ** 2 + (p[3 * a + 1] - p[3 * b + 1]) ** 2 + (p[3 * a + 2] - p[3 * b + 2]) ** 2

/** A tree with the boxes of triangles grown by so much all round. */
function grown(tree: BoxTree, by: (triangle: number) => number): BoxTree {
  const { first, count, right, order } = tree
  const [boxes, triangleBoxes] = [new Float64Array(tree.boxes.length), tree.triangleBoxes.slice()]
  for (const [i, t] of order.entries()) {
    const much = by(t)
    for (let k = 0; k < 3; k++) {
      triangleBoxes[6 * i + k] -= much
      triangleBoxes[6 * i + 3 + k] += much
    }
  }
  for (let node = order.length === 0 ? -1 : lastNode(count, right); node >= 0; node--)
    for (let k = 0; k < 6; k++) {
      const further = k < 3 ? Math.min : Math.max
      if (count[node] === 0) {
        boxes[6 * node + k] = further(boxes[6 * (node + 1) + k], boxes[6 * right[node] + k])
        continue
      }
      boxes[6 * node + k] = triangleBoxes[6 * first[node] + k]
      for (let i = first[node] + 1; i < first[node] + count[node]; i++) boxes[6 * node + k] = further(boxes[6 * node + k], triangleBoxes[6 * i + k])
    }
  return { ...tree, boxes, triangleBoxes }
}

/** Of a surface the vertices whose stars such a map may make cross, what is square to each, and the corners about them. */
export function starsOf(p: Float64Array, ids: Uint32Array, within: Straying): Pick<Margins, 'slim' | 'normals' | 'first' | 'corners'> {
  const vertices = p.length / 3
  const { first, corners } = cornersAbout(ids, vertices)
  const own = unitNormals(p, ids)
  const normals = new Float32Array(3 * vertices)
  const slim = new Uint32Array(vertices)
  let found = 0
  for (let v = 0; v < vertices; v++) {
    let [nx, ny, nz] = [0, 0, 0]
    for (let i = first[v]; i < first[v + 1]; i++) {
      const t = corners[i] - (corners[i] % 3)
      nx += own[t]
      ny += own[t + 1]
      nz += own[t + 2]
    }
    normals[3 * v] = nx
    normals[3 * v + 1] = ny
    normals[3 * v + 2] = nz
    const size = Math.sqrt(nx * nx + ny * ny + nz * nz)
    if (!(size > 1e-3 && staysSpread(p, ids, corners, first[v], first[v + 1], nx / size, ny / size, nz / size, within))) slim[found++] = v
  }
  return { slim: slim.slice(0, found), normals, first, corners }
}

const axes = new Float64Array(6)

/**
 * Whether the triangles about a vertex meet in nothing but it and the sides they share wherever such a map takes them. Seen against their mean normal they go round it once, and do so
 * as long as none of them turns over; of that the two sides of each tell that say most. Sides from the vertex stray by b r²/2 from what the derivative there makes of them, the far one by
 * b times its length and how far it is off, and rounding moves both ends.
 */
function staysSpread(
  p: Float64Array,
  ids: Uint32Array,
  corners: Uint32Array,
  begin: number,
  end: number,
  nx: number,
  ny: number,
  nz: number,
  { bend, rounding }: Straying,
): boolean {
  putAcross(nx, ny, nz, axes)
  const [ux, uy, uz] = [axes[0], axes[1], axes[2]]
  const [wx, wy, wz] = [axes[3], axes[4], axes[5]]
  const o = 3 * ids[corners[begin]]
  let rounds = 0
  for (let i = begin; i < end; i++) {
    const c = corners[i]
    const t = c - (c % 3)
    const a = 3 * ids[t + ((c + 1) % 3)]
    const b = 3 * ids[t + ((c + 2) % 3)]
    let [dx, dy, dz] = [p[a] - p[o], p[a + 1] - p[o + 1], p[a + 2] - p[o + 2]]
    const far = Math.sqrt(dx * dx + dy * dy + dz * dz)
    const [ax, ay] = [dx * ux + dy * uy + dz * uz, dx * wx + dy * wy + dz * wz]
    dx = p[b] - p[o]
    dy = p[b + 1] - p[o + 1]
    dz = p[b + 2] - p[o + 2]
    const away = Math.sqrt(dx * dx + dy * dy + dz * dz)
    const [bx, by] = [dx * ux + dy * uy + dz * uz, dx * wx + dy * wy + dz * wz]
    const [along, beside, across] = [Math.sqrt(ax * ax + ay * ay), Math.sqrt(bx * bx + by * by), Math.sqrt((ax - bx) ** 2 + (ay - by) ** 2)]
    const one = (bend * far * far) / 2 + 2 * rounding
    const two = (bend * away * away) / 2 + 2 * rounding
    const off = bend * Math.sqrt(square(p, a / 3, b / 3)) * Math.max(far, away) + 2 * rounding
    const needed = Math.min(along * two + beside * one + one * two, along * off + across * one + one * off, beside * off + across * two + two * off)
    if (!(ax * by - ay * bx > HAIR * needed)) return false
    if (ay < 0 && by >= 0) rounds++
  }
  return rounds === 1
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

/** Whether two triangles have a vertex in common. */
export function haveVertex(ids: Uint32Array, s: number, t: number): boolean {
  const [a, b, c] = [ids[3 * t], ids[3 * t + 1], ids[3 * t + 2]]
  for (let i = 3 * s; i < 3 * s + 3; i++) if (ids[i] === a || ids[i] === b || ids[i] === c) return true
  return false
}
