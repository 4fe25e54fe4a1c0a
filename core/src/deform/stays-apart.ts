import { goRound } from '../check/stars'
import { trianglesCross } from '../check/triangles'
import { boxSize } from '../check/tree'
import { determinantAt } from './moved-surface'
import { haveVertex, type Margins, type Straying } from './margins'
import { DIRECTIONS, Parting } from './parting'

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
 * takes two points that are d apart to points at least (σ − bρ)d apart: σ is the least that its derivative at c leaves of a length, b bounds the second. So where b and rounding, as shares of
 * that, are within what the margins are for, nothing comes together there but what they list. That is asked a node of a tree at a time, as long as ρ is small; nodes further off are proven by where their boxes
 * can come to lie. What is listed, and what neither proves, is looked at where it is now; `patience` is how many times as much of that as is worth it beside a check.
 */
export function staysApart(margins: Margins, moved: Moved, patience = 1): boolean {
  return new Proof(margins, moved, patience).holds()
}

/** What a map does to lengths, as a share of what it leaves of them nearly everywhere: what is asked of margins. Not finite where that is nothing. */
export function strayingOf({ jacobian, unsure, bend, rounding }: Pick<Moved, 'jacobian' | 'unsure' | 'bend' | 'rounding'>): Straying {
  const vertices = jacobian.length / 9
  const some = Float64Array.from(
    { length: Math.min(vertices, SAMPLES) },
    (_, i) => leastAt(jacobian, Math.floor((i * vertices) / Math.min(vertices, SAMPLES))) - unsure,
  )
  const least = Math.max(0, some.sort()[Math.floor(FEW * some.length)])
  return { bend: bend / least, rounding: rounding / least }
}

/** So many vertices tell what a map leaves of lengths; such a share of them may be left with less. */
const SAMPLES = 1024
const FEW = 0.1

/**
 * What the derivative at a vertex leaves of a length at least: the root of the least eigenvalue of its square (Smith, "Eigenvalues of a symmetric 3 × 3 matrix", 1961), a little less for
 * rounding; below nought where it turns space inside out.
 */
function leastAt(j: Float64Array, v: number): number {
  const o = 9 * v
  if (!(determinantAt(j, o) > 0)) return -1
  const a = j[o] * j[o] + j[o + 3] * j[o + 3] + j[o + 6] * j[o + 6]
  const b = j[o + 1] * j[o + 1] + j[o + 4] * j[o + 4] + j[o + 7] * j[o + 7]
  const c = j[o + 2] * j[o + 2] + j[o + 5] * j[o + 5] + j[o + 8] * j[o + 8]
  const ab = j[o] * j[o + 1] + j[o + 3] * j[o + 4] + j[o + 6] * j[o + 7]
  const ac = j[o] * j[o + 2] + j[o + 3] * j[o + 5] + j[o + 6] * j[o + 8]
  const bc = j[o + 1] * j[o + 2] + j[o + 4] * j[o + 5] + j[o + 7] * j[o + 8]
  const mean = (a + b + c) / 3
  const [x, y, z] = [a - mean, b - mean, c - mean]
  const spread = Math.sqrt((x * x + y * y + z * z + 2 * (ab * ab + ac * ac + bc * bc)) / 6)
  const half = spread > 0 ? (x * (y * z - bc * bc) - ab * (ab * z - bc * ac) + ac * (ab * bc - y * ac)) / (2 * spread ** 3) : 1
  const turn = Math.acos(Math.min(1, Math.max(-1, half))) / 3
  const least = mean + 2 * spread * Math.cos(turn + (2 * Math.PI) / 3) - ROUNDED * mean
  return least > 0 ? Math.sqrt(least) : 0
}

const ROUNDED = 1e-7

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

/** What is listed for maps that bend so many times more lets larger nodes be proven at once; for less more of them are asked, for more more pairs are looked at. */
const AMPLE = 1.4

/** One as a share of the other, which may be nought as well. */
const share = (one: number, other: number) => (one > 0 ? one / other : 0)

class Proof {
  private left: number
  /** of nodes that were asked about: what is left of a length at their vertex, where what they have can come to lie */
  private readonly asked: Uint8Array
  private readonly leastOf: Float64Array
  private readonly endBoxes: Float64Array
  /** of stars that were looked at 1 where they are spread out and 2 where they are not seen to be */
  private readonly stars: Uint8Array
  private readonly parting: Parting
  /** of each node the cell of all it has, SEVERAL where there is more than one; undefined where all is of one */
  private readonly cell?: Int32Array
  /** the share that must be left of lengths for the margins to tell anything */
  private readonly enough: number
  /** so many of the pairs that are listed are near for this map */
  private readonly listed: number

  constructor(
    private readonly margins: Margins,
    private readonly moved: Moved,
    private readonly patience: number,
  ) {
    this.stars = new Uint8Array(moved.ends.length / 3)
    this.parting = new Parting(moved.positions, moved.indices)
    const nodes = margins.vertex.length
    this.asked = new Uint8Array(nodes)
    this.leastOf = new Float64Array(nodes)
    this.endBoxes = new Float64Array(6 * nodes)
    if (moved.cells) this.cell = cellsOfNodes(margins, moved.indices, moved.cells)
    this.left = Math.ceil(patience * MOST_LOOKED_AT * margins.tree.order.length)
    const ample = AMPLE * strayingOf(moved).bend
    const { bend, pairs } = margins.levels.findLast((level) => level.bend >= ample) ?? margins.levels[0]
    this.listed = pairs
    this.enough = Math.max(share(moved.bend, bend), share(moved.rounding, margins.within.rounding))
  }

  holds(): boolean {
    return this.restHolds() && this.listHolds()
  }

  /** Whether what is not listed holds. */
  private restHolds(): boolean {
    const { boxes, count, right, order } = this.margins.tree
    const stack = [0, 0]
    const most = this.patience * MOST_PAIRS * order.length
    for (let pairs = 0; stack.length > 0; pairs++) {
      if (pairs > most) return false
      const b = stack.pop() as number
      const a = stack.pop() as number
      if (a === b) {
        if (this.keepDistance(a, a)) continue
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

  /** Whether what is listed holds, looked at. */
  private listHolds(): boolean {
    const { near, parted, slim } = this.margins
    for (let i = 0; i < this.listed; i++) if (!this.looksApart(near[2 * i], near[2 * i + 1], parted[i])) return false
    for (let i = 0; i < slim.length; i++) if (!this.starHolds(slim[i])) return false
    return true
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

  /** Whether what two nodes have, or one has, cannot come together but where it is listed, by how near the map is to its derivative. */
  private keepDistance(a: number, b: number): boolean {
    if (!this.ofOneMap(a, b)) return false
    const v = this.margins.vertex[a]
    this.ask(a)
    return this.leastOf[a] - this.moved.bend * Math.max(this.furthest(v, a), this.furthest(v, b)) > this.enough
  }

  /** Whether the boxes of two nodes cannot come to meet. */
  private endApart(a: number, b: number): boolean {
    if (!this.ofOneMap(a, a) || !this.ofOneMap(b, b)) return false
    this.ask(a)
    this.ask(b)
    const { endBoxes: boxes } = this
    const [i, j] = [6 * a, 6 * b]
    return (
      boxes[i] > boxes[j + 3] ||
      boxes[j] > boxes[i + 3] ||
      boxes[i + 1] > boxes[j + 4] ||
      boxes[j + 1] > boxes[i + 4] ||
      boxes[i + 2] > boxes[j + 5] ||
      boxes[j + 2] > boxes[i + 5]
    )
  }

  /** Works out where what a node has can come to lie: by the derivative at one of its vertices, and the bound of the second. */
  private ask(node: number): void {
    if (this.asked[node]) return
    this.asked[node] = 1
    const { tree, vertex } = this.margins
    const { rest, ends, jacobian, unsure, bend, rounding } = this.moved
    const v = vertex[node]
    this.leastOf[node] = leastAt(jacobian, v) - unsure
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

  /** Whether the stars of all vertices of a leaf hold, looked at. */
  private starsHold(leaf: number): boolean {
    const { first, count, order } = this.margins.tree
    const { indices } = this.moved
    for (let i = first[leaf]; i < first[leaf] + count[leaf]; i++)
      for (let h = 3 * order[i]; h < 3 * order[i] + 3; h++) if (!this.starHolds(indices[h])) return false
    return true
  }

  /** Whether no two triangles about a vertex cross: all at once, or pair by pair. */
  private starHolds(v: number): boolean {
    if (this.isSpread(v)) return true
    const { first, corners } = this.margins
    const { indices: ids } = this.moved
    for (let c = first[v]; c < first[v + 1]; c++)
      for (let d = c + 1; d < first[v + 1]; d++) {
        const [s, t] = [(corners[c] / 3) | 0, (corners[d] / 3) | 0]
        // another vertex that they share may tell
        let told = false
        for (let i = 3 * s; i < 3 * s + 3 && !told; i++) {
          const w = ids[i]
          told = w !== v && (w === ids[3 * t] || w === ids[3 * t + 1] || w === ids[3 * t + 2]) && this.isSpread(w)
        }
        if (!told && !this.looksApart(s, t)) return false
      }
    return true
  }

  /** Whether the triangles about a vertex are seen to go round it once where they are now, along what was square to them at rest. */
  private isSpread(v: number): boolean {
    const { stars, margins } = this
    if (stars[v] === 0) {
      const { normals, first, corners } = margins
      const { jacobian: j, positions, indices } = this.moved
      const [x, y, z, o] = [normals[3 * v], normals[3 * v + 1], normals[3 * v + 2], 9 * v]
      const nx =
        (j[o + 4] * j[o + 8] - j[o + 5] * j[o + 7]) * x + (j[o + 5] * j[o + 6] - j[o + 3] * j[o + 8]) * y + (j[o + 3] * j[o + 7] - j[o + 4] * j[o + 6]) * z
      const ny = (j[o + 2] * j[o + 7] - j[o + 1] * j[o + 8]) * x + (j[o] * j[o + 8] - j[o + 2] * j[o + 6]) * y + (j[o + 1] * j[o + 6] - j[o] * j[o + 7]) * z
      const nz = (j[o + 1] * j[o + 5] - j[o + 2] * j[o + 4]) * x + (j[o + 2] * j[o + 3] - j[o] * j[o + 5]) * y + (j[o] * j[o + 4] - j[o + 1] * j[o + 3]) * z
      const size = Math.sqrt(nx * nx + ny * ny + nz * nz)
      stars[v] = size > 0 && goRound(positions, indices, corners, first[v], first[v + 1], nx / size, ny / size, nz / size) ? 1 : 2
    }
    return stars[v] === 1
  }

  /** Whether the triangles of two leaves that have no vertex in common are apart. */
  private pairsHold(a: number, b: number): boolean {
    const { first, count, order } = this.margins.tree
    const { indices } = this.moved
    for (let i = first[a]; i < first[a] + count[a]; i++)
      for (let j = a === b ? i + 1 : first[b]; j < first[b] + count[b]; j++)
        if (!haveVertex(indices, order[i], order[j]) && !this.looksApart(order[i], order[j], DIRECTIONS)) return false
    return true
  }

  /** Whether two triangles neither cross nor have vertices that have come to one place; not known once too many were looked at. With a direction to try first they have no vertex in common. */
  private looksApart(s: number, t: number, direction?: number): boolean {
    if (direction !== undefined) {
      this.parting.take(s, t)
      if (this.parting.surely(direction)) return true
    }
    if (this.left-- === 0) return false
    const { indices, positions: p } = this.moved
    for (let i = 3 * s; i < 3 * s + 3; i++)
      for (let j = 3 * t; j < 3 * t + 3; j++) {
        const [a, b] = [indices[i], indices[j]]
        if (a !== b && p[3 * a] === p[3 * b] && p[3 * a + 1] === p[3 * b + 1] && p[3 * a + 2] === p[3 * b + 2]) return false
      }
    return !trianglesCross(p, indices, s, t)
  }
}
