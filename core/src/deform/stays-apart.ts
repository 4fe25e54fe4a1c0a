import { trianglesCross } from '../check/triangles'
import { boxSize } from '../check/tree'
import { determinantAt } from './moved-surface'
import { boxGap, haveVertex, type Margins } from './margins'

/** A solid's surface, and where a map takes it. */
export interface Moved {
  /** three vertices a triangle */
  readonly indices: Uint32Array
  /** where they are at rest, where the map takes them, and where that is on the lattice, mm */
  readonly rest: Float64Array
  readonly ends: Float64Array
  readonly positions: Float64Array
  /** how far the last two are apart at most */
  readonly rounding: number
  /** the map's derivatives there, nine a vertex by rows, and how far they may be off along a line */
  readonly jacobian: Float64Array
  readonly unsure: number
  /** the most that the map's second derivative along a line comes to within the box of the piece, 1/mm */
  readonly bend: number
  /** of each vertex what it goes by: each cell has a map of its own; left out where there is one */
  readonly cells?: Int32Array
}

/** So many pairs of triangles and of nodes, as many times as there are triangles, take a fraction of what the check takes; what needs more is left to that. */
const MOST_LOOKED_AT = 0.06
const MOST_PAIRS = 3

/**
 * Whether a map keeps a closed solid from crossing itself, as far as margins at rest and its bounds tell; no means that it is not known. Within ρ of a place c the map
 * takes two points that are d apart to points at least (σ − bρ)d apart: σ is the least that its derivative at c leaves of a length, b bounds the second. Triangles with sides up to l
 * stay within b l²/6 of the curved surface, and rounding adds its own. So what keeps a distance at rest is proven apart a node of the tree at a time as long as ρ is small, stars of vertices by
 * their margins (corners r away stray by b r²/2 from what the derivative makes of them), and nodes further off by where their boxes can come to lie. What neither proves is looked at, exactly;
 * `patience` is how many times as much of that as is worth it beside a check.
 */
export function staysApart(margins: Margins, moved: Moved, patience = 1): boolean {
  return new Proof(margins, moved, patience).holds()
}

/** Whether triangles with sides up to one and the other length, that far apart, stay so where no length becomes less than the share `least` of itself. */
export const distanceHolds = (least: number, distance: number, one: number, other: number, { bend, rounding }: Pick<Moved, 'bend' | 'rounding'>): boolean =>
  least * distance > (bend * (one * one + other * other)) / 6 + 2 * rounding

/** The same of a star of that margin, with sides up to `reach`. */
export const starHolds = (least: number, margin: number, reach: number, { bend, rounding }: Pick<Moved, 'bend' | 'rounding'>): boolean =>
  least * margin > bend * reach * reach + 4 * rounding

const SEVERAL = -1

function cellsOfNodes({ tree: { first, count, right, order } }: Margins, indices: Uint32Array, cells: Int32Array): Int32Array {
  const cell = new Int32Array(count.length)
  // children come after their node
  for (let node = count.length - 1; node >= 0; node--) {
    if (count[node] === 0) {
      cell[node] = cell[node + 1] === cell[right[node]] ? cell[node + 1] : SEVERAL
      continue
    }
    // what hangs together is of one
    cell[node] = cells[indices[3 * order[first[node]]]]
    for (let i = first[node] + 1; i < first[node] + count[node]; i++) if (cells[indices[3 * order[i]]] !== cell[node]) cell[node] = SEVERAL
  }
  return cell
}

class Proof {
  private left: number
  /** of nodes that were asked about: what is left of a length at their vertex, where what they have can come to lie */
  private readonly asked: Uint8Array
  private readonly leastOf: Float64Array
  private readonly endBoxes: Float64Array
  /** stars that are known to hold */
  private readonly hold: Uint8Array
  /** of each node the cell of all it has, SEVERAL where there is more than one; undefined where all is of one */
  private readonly cell?: Int32Array

  constructor(
    private readonly margins: Margins,
    private readonly moved: Moved,
    private readonly patience: number,
  ) {
    this.hold = new Uint8Array(moved.ends.length / 3)
    const nodes = margins.vertex.length
    this.asked = new Uint8Array(nodes)
    this.leastOf = new Float64Array(nodes)
    this.endBoxes = new Float64Array(6 * nodes)
    if (moved.cells) this.cell = cellsOfNodes(margins, moved.indices, moved.cells)
    this.left = Math.ceil(patience * MOST_LOOKED_AT * margins.tree.order.length)
  }

  holds(): boolean {
    const { boxes, count, right, order } = this.margins.tree
    const stack = [0, 0]
    const most = this.patience * MOST_PAIRS * order.length
    for (let pairs = 0; stack.length > 0; pairs++) {
      if (pairs > most) return false
      const b = stack.pop() as number
      const a = stack.pop() as number
      if (a === b) {
        if (this.nodeHolds(a)) continue
        if (count[a] === 0) stack.push(a + 1, a + 1, right[a], right[a], a + 1, right[a])
        else if (!this.starsHold(a) || !this.pairsHold(a, a)) return false
        continue
      }
      if (this.endApart(a, b) || this.keepDistance(a, b)) continue
      if (count[a] > 0 && count[b] > 0) {
        if (!this.pairsHold(a, b)) return false
      } else if (count[a] > 0 || (count[b] === 0 && boxSize(boxes, b) > boxSize(boxes, a))) stack.push(a, b + 1, a, right[b])
      else stack.push(a + 1, b, right[a], b)
    }
    return true
  }

  /** What the derivative at a vertex leaves of a length at least: three singular values have the determinant as their product, and two of them no more than half the sum of all squares. */
  private least(v: number): number {
    const { jacobian: j, unsure } = this.moved
    let sum = 0
    for (let i = 9 * v; i < 9 * v + 9; i++) sum += j[i] * j[i]
    return (2 * determinantAt(j, 9 * v)) / sum - unsure
  }

  /** How far the furthest corner of a node's box is from a vertex, at rest. */
  private furthest(v: number, node: number): number {
    const { boxes } = this.margins.tree
    const { rest } = this.moved
    let sum = 0
    for (let k = 0; k < 3; k++) sum += Math.max(rest[3 * v + k] - boxes[6 * node + k], boxes[6 * node + 3 + k] - rest[3 * v + k]) ** 2
    return Math.sqrt(sum)
  }

  /** Whether what two nodes have goes by one map, so that bounds say anything of it. */
  private ofOneMap(a: number, b: number): boolean {
    return !this.cell || (this.cell[a] === this.cell[b] && this.cell[a] !== SEVERAL)
  }

  /** Whether nothing within a node crosses. */
  private nodeHolds(node: number): boolean {
    const { vertex, star, reach } = this.margins
    const { bend } = this.moved
    const v = vertex[node]
    return this.keepDistance(node, node) && starHolds(this.leastOf[node] - bend * this.furthest(v, node), star[node], reach[node], this.moved)
  }

  /** Whether triangles of two nodes that have no vertex in common keep apart, by how near the map is to its derivative. */
  private keepDistance(a: number, b: number): boolean {
    const { tree, apart, vertex, long } = this.margins
    if (!this.ofOneMap(a, b)) return false
    const v = vertex[a]
    this.ask(a)
    const least = this.leastOf[a] - this.moved.bend * Math.max(this.furthest(v, a), this.furthest(v, b))
    if (!(least > 0)) return false
    const distance = Math.max(apart[a], apart[b], a === b ? 0 : boxGap(tree.boxes, 6 * a, tree.boxes, 6 * b))
    return distanceHolds(least, distance, long[a], long[b], this.moved)
  }

  /** Whether the boxes of two nodes cannot come to meet. */
  private endApart(a: number, b: number): boolean {
    if (!this.ofOneMap(a, a) || !this.ofOneMap(b, b)) return false
    this.ask(a)
    this.ask(b)
    return boxGap(this.endBoxes, 6 * a, this.endBoxes, 6 * b) > 0
  }

  /** Works out where what a node has can come to lie: by the derivative at one of its vertices, and the bound of the second. */
  private ask(node: number): void {
    if (this.asked[node]) return
    this.asked[node] = 1
    const { tree, vertex } = this.margins
    const { rest, ends, jacobian, unsure, bend, rounding } = this.moved
    const v = vertex[node]
    this.leastOf[node] = this.least(v)
    const far = this.furthest(v, node)
    const off = (bend * far * far) / 2 + unsure * far + rounding
    for (let k = 0; k < 3; k++) {
      let [low, high] = [ends[3 * v + k] - off, ends[3 * v + k] + off]
      for (let m = 0; m < 3; m++) {
        const slope = jacobian[9 * v + 3 * k + m]
        const one = slope * (tree.boxes[6 * node + m] - rest[3 * v + m])
        const two = slope * (tree.boxes[6 * node + 3 + m] - rest[3 * v + m])
        low += Math.min(one, two)
        high += Math.max(one, two)
      }
      this.endBoxes[6 * node + k] = low
      this.endBoxes[6 * node + 3 + k] = high
    }
  }

  /** Whether the stars of all vertices of a leaf hold: by their own margins, or looked at. */
  private starsHold(leaf: number): boolean {
    const { tree, starAt, reachAt, first, corners } = this.margins
    const { indices } = this.moved
    for (let i = tree.first[leaf]; i < tree.first[leaf] + tree.count[leaf]; i++)
      for (let h = 3 * tree.order[i], k = 0; k < 3; k++) {
        const v = indices[h + k]
        if (this.hold[v]) continue
        this.hold[v] = 1
        if (starHolds(this.least(v), starAt[v], reachAt[v], this.moved)) continue
        for (let c = first[v]; c < first[v + 1]; c++)
          for (let d = c + 1; d < first[v + 1]; d++) if (!this.looksApart((corners[c] / 3) | 0, (corners[d] / 3) | 0)) return false
      }
    return true
  }

  /** Whether the triangles of two leaves that have no vertex in common are apart. */
  private pairsHold(a: number, b: number): boolean {
    const { first, count, order } = this.margins.tree
    const { indices } = this.moved
    for (let i = first[a]; i < first[a] + count[a]; i++)
      for (let j = a === b ? i + 1 : first[b]; j < first[b] + count[b]; j++)
        if (!haveVertex(indices, order[i], order[j]) && !this.looksApart(order[i], order[j])) return false
    return true
  }

  /** Whether two triangles neither cross nor have vertices that have come to one place; not known once too many were looked at. */
  private looksApart(s: number, t: number): boolean {
    const { indices, positions: p } = this.moved
    for (let k = 0; k < 3; k++) {
      let [a, b, c] = [p[3 * indices[3 * s] + k], p[3 * indices[3 * s + 1] + k], p[3 * indices[3 * s + 2] + k]]
      const [low, high] = [Math.min(a, b, c), Math.max(a, b, c)]
      ;[a, b, c] = [p[3 * indices[3 * t] + k], p[3 * indices[3 * t + 1] + k], p[3 * indices[3 * t + 2] + k]]
      if (Math.min(a, b, c) > high || Math.max(a, b, c) < low) return true
    }
    if (this.left-- === 0) return false
    for (let i = 3 * s; i < 3 * s + 3; i++)
      for (let j = 3 * t; j < 3 * t + 3; j++) {
        const [a, b] = [indices[i], indices[j]]
        if (a !== b && p[3 * a] === p[3 * b] && p[3 * a + 1] === p[3 * b + 1] && p[3 * a + 2] === p[3 * b + 2]) return false
      }
    return !trianglesCross(p, indices, s, t)
  }
}
