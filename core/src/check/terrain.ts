import { orient2d } from 'robust-predicates'
import { type BoxTree, lastNode } from './tree'

/** Nodes of more triangles than this are not looked at: their borders are long, and the work grows with the square of that. */
const MOST_TRIANGLES = 2048
const MOST_SIDES = 384
/** Of fewer it is as quick to try the pairs. */
const LEAST_TRIANGLES = 3
/** Of more the loops' work would grow with the square of their number. */
const MOST_LOOPS = 16

/**
 * Of each node of a tree 1 where its triangles are known not to cross each other, as they are a terrain: seen along one of the axes each line meets them once at
 * most (de Berg and others, "Computational Geometry", 2008, ch. 9). That is so where all of them face up, and their border does not wind twice round anything: as many
 * triangles lie over a point as the border goes round it. All signs are exact. Nodes below one for which it is so are not looked at.
 * `planes` are those of planesOf, `opposite` those of oppositesOf.
 */
export function terrainNodes(tree: BoxTree, p: ArrayLike<number>, ids: ArrayLike<number>, planes: Float64Array, opposite: Int32Array): Uint8Array {
  const { first, count, right, order } = tree
  const out = new Uint8Array(count.length)
  if (order.length === 0) return out
  const nodes = lastNode(count, right) + 1
  const place = new Int32Array(order.length)
  for (let i = 0; i < order.length; i++) place[order[i]] = i
  const from = new Int32Array(nodes)
  const to = new Int32Array(nodes)
  const facing = new Uint8Array(nodes)
  // children come after their node
  for (let node = nodes - 1; node >= 0; node--) {
    if (count[node] === 0) {
      from[node] = from[node + 1]
      to[node] = to[right[node]]
      facing[node] = facing[node + 1] & facing[right[node]]
      continue
    }
    from[node] = first[node]
    to[node] = first[node] + count[node]
    let all = 63
    for (let i = from[node]; i < to[node]; i++) all &= facingOf(planes, order[i])
    facing[node] = all
  }
  const border = new Border(p, ids)
  /** whether what a node has is a terrain as seen along one of the axes that all of it faces */
  const isTerrain = (node: number): boolean => {
    if (!border.take(order, place, opposite, from[node], to[node])) return false
    for (let way = 0; way < 6; way++) if ((facing[node] >> way) & 1 && border.windsOnce(way >> 1, way % 2 === 1)) return true
    return false
  }
  const stack = [0]
  while (stack.length > 0) {
    const node = stack.pop() as number
    const size = to[node] - from[node]
    if (size < LEAST_TRIANGLES) continue
    if (facing[node] !== 0 && size <= MOST_TRIANGLES && isTerrain(node)) out[node] = 1
    else if (count[node] === 0) stack.push(node + 1, right[node])
  }
  return out
}

/** A bit for each way along an axis, x, −x, y and so on, that a triangle faces for sure. */
function facingOf(planes: Float64Array, t: number): number {
  let out = 0
  for (let k = 0; k < 3; k++) {
    const along = planes[6 * t + k]
    const unsure = planes[6 * t + 3 + k]
    if (along > unsure) out |= 1 << (2 * k)
    else if (-along > unsure) out |= 2 << (2 * k)
  }
  return out
}

/** The sides of some triangles that are met by no other of them, seen along an axis. */
class Border {
  private count = 0
  /** vertices at which the sides begin and end */
  private readonly begin = new Int32Array(MOST_SIDES)
  private readonly end = new Int32Array(MOST_SIDES)
  /** of each side the one that goes on from its end */
  private readonly next = new Int32Array(MOST_SIDES)
  /** in the plane: x and y of both ends, four a side, and the least and greatest x and y */
  private readonly ends = new Float64Array(4 * MOST_SIDES)
  private readonly reach = new Float64Array(4 * MOST_SIDES)
  /** of each vertex the side that begins there, plus one */
  private readonly at: Int32Array

  constructor(
    private readonly p: ArrayLike<number>,
    private readonly ids: ArrayLike<number>,
  ) {
    this.at = new Int32Array(p.length / 3)
  }

  /** Takes the border of the triangles from one place in the order to another; false where it is too long, or comes to a vertex twice. */
  take(order: Int32Array, place: Int32Array, opposite: Int32Array, from: number, to: number): boolean {
    const { ids, begin, end, next, at } = this
    let count = 0
    for (let i = from; i < to; i++)
      for (let h = 3 * order[i], k = 0; k < 3; k++) {
        const across = opposite[h + k]
        if (across >= 0 && opposite[across] === h + k) {
          const there = place[(across / 3) | 0]
          if (there >= from && there < to) continue
        }
        if (count === MOST_SIDES) return false
        begin[count] = ids[h + k]
        end[count++] = ids[k === 2 ? h : h + k + 1]
      }
    this.count = count
    let once = true
    let marked = 0
    for (; marked < count && once; marked++) {
      once = at[begin[marked]] === 0
      if (once) at[begin[marked]] = marked + 1
    }
    // as many come to a vertex as leave it
    if (once) for (let s = 0; s < count; s++) next[s] = at[end[s]] - 1
    for (let s = 0; s < marked; s++) at[begin[s]] = 0
    return once
  }

  /** Whether it goes round nothing more than once, seen along an axis or against it; rather no than wrong. */
  windsOnce(axis: number, against: boolean): boolean {
    const { p, begin, end, ends, reach, count } = this
    const u = (axis + (against ? 2 : 1)) % 3
    const v = (axis + (against ? 1 : 2)) % 3
    for (let s = 0; s < count; s++) {
      const [x, y, z, w] = [p[3 * begin[s] + u], p[3 * begin[s] + v], p[3 * end[s] + u], p[3 * end[s] + v]]
      ends[4 * s] = x
      ends[4 * s + 1] = y
      ends[4 * s + 2] = z
      ends[4 * s + 3] = w
      reach[4 * s] = x < z ? x : z
      reach[4 * s + 1] = y < w ? y : w
      reach[4 * s + 2] = x < z ? z : x
      reach[4 * s + 3] = y < w ? w : y
    }
    for (let s = 0; s < count; s++)
      for (let t = s + 1; t < count; t++) {
        if (reach[4 * s] > reach[4 * t + 2] || reach[4 * t] > reach[4 * s + 2] || reach[4 * s + 1] > reach[4 * t + 3] || reach[4 * t + 1] > reach[4 * s + 3])
          continue
        if (this.touch(s, t)) return false
      }
    return this.loopsApart()
  }

  /** Whether two sides have more in common than a vertex at which one goes on in the other. */
  private touch(s: number, t: number): boolean {
    const { ends, next } = this
    // one that runs back along the one before ends on it, or the one after next does
    if (next[s] === t || next[t] === s) return false
    const [ax, ay, bx, by] = [ends[4 * s], ends[4 * s + 1], ends[4 * s + 2], ends[4 * s + 3]]
    const [cx, cy, dx, dy] = [ends[4 * t], ends[4 * t + 1], ends[4 * t + 2], ends[4 * t + 3]]
    const c = orient2d(ax, ay, bx, by, cx, cy)
    const d = orient2d(ax, ay, bx, by, dx, dy)
    if ((c > 0 && d > 0) || (c < 0 && d < 0)) return false
    const a = orient2d(cx, cy, dx, dy, ax, ay)
    const b = orient2d(cx, cy, dx, dy, bx, by)
    return !((a > 0 && b > 0) || (a < 0 && b < 0))
  }

  /** Of loops that do not touch: whether just outside of each that runs forward the others go round nothing. */
  private loopsApart(): boolean {
    const { ends, next, count } = this
    const loop = new Int32Array(count).fill(-1)
    /** the first side of each, and whether it runs forward */
    const starts: number[] = []
    const forward: boolean[] = []
    for (let s = 0; s < count; s++) {
      if (loop[s] >= 0) continue
      if (starts.length === MOST_LOOPS) return false
      // its lowest corner furthest left tells which way it runs
      let into = s
      let side = s
      do {
        loop[side] = starts.length
        const after = next[side]
        const lowest = next[into]
        if (ends[4 * after] < ends[4 * lowest] || (ends[4 * after] === ends[4 * lowest] && ends[4 * after + 1] < ends[4 * lowest + 1])) into = side
        side = after
      } while (side !== s)
      const after = next[into]
      starts.push(s)
      // below nought is to the left: y runs down for that function
      forward.push(orient2d(ends[4 * into], ends[4 * into + 1], ends[4 * after], ends[4 * after + 1], ends[4 * after + 2], ends[4 * after + 3]) < 0)
    }
    return starts.every((s, own) => {
      if (!forward[own]) return true
      let rounds = 0
      for (let other = 0; other < starts.length; other++) if (other !== own && this.isWithin(s, loop, other)) rounds += forward[other] ? 1 : -1
      return rounds === 0
    })
  }

  /** Whether a side begins within a loop that it does not touch: by the sides that cross the line from there. */
  private isWithin(s: number, loop: Int32Array, of: number): boolean {
    const { ends, count } = this
    const [x, y] = [ends[4 * s], ends[4 * s + 1]]
    let within = false
    for (let t = 0; t < count; t++) {
      if (loop[t] !== of) continue
      const [ax, ay, bx, by] = [ends[4 * t], ends[4 * t + 1], ends[4 * t + 2], ends[4 * t + 3]]
      if (ay > y === by > y) continue
      if (orient2d(ax, ay, bx, by, x, y) > 0 === by > ay) within = !within
    }
    return within
  }
}
