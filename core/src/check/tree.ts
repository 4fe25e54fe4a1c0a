/**
 * A tree of bounding boxes over triangles, for finding pairs whose boxes meet. Packed: node i has its box in
 * boxes[6i…6i+5] (min xyz, max xyz); leaves hold order[first[i] … first[i] + count[i] − 1]; inner nodes have count 0 and
 * children i + 1 and right[i].
 */
export interface BoxTree {
  readonly boxes: Float64Array
  readonly first: Int32Array
  readonly count: Int32Array
  readonly right: Int32Array
  readonly order: Int32Array
  /** box of each triangle, six numbers, in that order */
  readonly triangleBoxes: Float64Array
  /** of each node in which axis all its triangles are flat, 1 to 3; 0 where none is, MIXED where that differs */
  readonly flat: Uint8Array
}

const MIXED = 255

const LEAF = 4

/**
 * Builds the tree along a curve through all space (Morton, "A computer oriented geodetic data base", 1966): triangles are put in order of the bits of their middles,
 * x, y and z in turn, and nodes are parted at the highest bit that differs in them. Positions are x, y, z; indices three a triangle. With
 * `flatsApart` triangles that lie square to an axis are parted from all others first.
 */
export function buildBoxTree(
  positions: ArrayLike<number>,
  indices: ArrayLike<number>,
  { flatsApart = false }: { readonly flatsApart?: boolean } = {},
): BoxTree {
  const n = indices.length / 3
  const own = triangleBoxesOf(positions, indices)
  const order = new Int32Array(n)
  for (let t = 0; t < n; t++) order[t] = t
  const ends = flatsApart ? sortedByFlat(order, own) : undefined
  const along = new CurveOrder(own, order)
  const capacity = Math.max(1, 2 * n)
  const boxes = new Float64Array(6 * capacity)
  const first = new Int32Array(capacity)
  const count = new Int32Array(capacity)
  const right = new Int32Array(capacity)
  const flat = new Uint8Array(capacity).fill(MIXED)
  // neighbours in the tree lie next to each other in memory
  const triangleBoxes = new Float64Array(6 * n)
  let used = 0
  const leaf = (node: number, from: number, to: number): void => {
    first[node] = from
    count[node] = to - from
    for (let k = 0; k < 6; k++) boxes[6 * node + k] = k < 3 ? Infinity : -Infinity
    for (let i = from; i < to; i++) {
      const o = 6 * order[i]
      for (let k = 0; k < 6; k++) {
        const value = own[o + k]
        triangleBoxes[6 * i + k] = value
        if (k < 3 ? value < boxes[6 * node + k] : value > boxes[6 * node + k]) boxes[6 * node + k] = value
      }
    }
  }
  const enclose = (node: number): void => {
    const [a, b] = [6 * (node + 1), 6 * right[node]]
    for (let k = 0; k < 3; k++) {
      boxes[6 * node + k] = Math.min(boxes[a + k], boxes[b + k])
      boxes[6 * node + 3 + k] = Math.max(boxes[a + 3 + k], boxes[b + 3 + k])
    }
  }
  const build = (from: number, to: number, kind: number): number => {
    const node = used++
    flat[node] = kind
    if (to - from <= LEAF) {
      leaf(node, from, to)
      return node
    }
    const middle = along.split(from, to)
    build(from, middle, kind)
    right[node] = build(middle, to, kind)
    enclose(node)
    return node
  }
  const sorted = (from: number, to: number, kind: number): number => {
    along.sort(from, to)
    return build(from, to, kind)
  }
  if (n > 0 && ends) {
    /** the node of the kinds from one on, of triangles from one on */
    const kinds = (kind: number, from: number): number => {
      if (kind === 3 || ends[kind] === n) return sorted(from, n, kind)
      if (ends[kind] === from) return kinds(kind + 1, from)
      const node = used++
      sorted(from, ends[kind], kind)
      right[node] = kinds(kind + 1, ends[kind])
      enclose(node)
      return node
    }
    kinds(0, 0)
  } else if (n > 0) sorted(0, n, MIXED)
  return { boxes, first, count, right, order, triangleBoxes, flat }
}

/** Of each triangle its box: min xyz, max xyz. */
function triangleBoxesOf(positions: ArrayLike<number>, indices: ArrayLike<number>): Float64Array {
  const out = new Float64Array(2 * indices.length)
  for (let t = 0; 3 * t < indices.length; t++) {
    const i = 3 * indices[3 * t]
    const j = 3 * indices[3 * t + 1]
    const l = 3 * indices[3 * t + 2]
    for (let k = 0; k < 3; k++) {
      const a = positions[i + k]
      const b = positions[j + k]
      const c = positions[l + k]
      out[6 * t + k] = a < b ? (a < c ? a : c) : b < c ? b : c
      out[6 * t + 3 + k] = a > b ? (a > c ? a : c) : b > c ? b : c
    }
  }
  return out
}

/** A place's bits in an axis: three of them make a code of 30. */
const BITS = 10
/** So few are put in order one by one; fewer than these by shorter digits, of so many bits. */
const BY_HAND = 24
const FEW = 800
const FEW_BITS = 6
/** So many of one code are put in order once more, by their own box: with a few far away all others may be in one place. */
const MANY = 32

/** Triangles in order of the bits of their middles. */
class CurveOrder {
  private readonly codes: Int32Array
  private readonly spareCodes: Int32Array
  private readonly spareOrder: Int32Array

  constructor(
    private readonly boxes: Float64Array,
    private readonly order: Int32Array,
  ) {
    this.codes = new Int32Array(order.length)
    this.spareCodes = new Int32Array(order.length)
    this.spareOrder = new Int32Array(order.length)
  }

  /** Puts those from one place to another in order; gives whether they are not all at one. */
  sort(from: number, to: number): boolean {
    const { codes, order, boxes } = this
    let [x0, y0, z0, x1, y1, z1] = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]
    for (let i = from; i < to; i++) {
      const o = 6 * order[i]
      const x = boxes[o] + boxes[o + 3]
      const y = boxes[o + 1] + boxes[o + 4]
      const z = boxes[o + 2] + boxes[o + 5]
      if (x < x0) x0 = x
      if (y < y0) y0 = y
      if (z < z0) z0 = z
      if (x > x1) x1 = x
      if (y > y1) y1 = y
      if (z > z1) z1 = z
    }
    const size = Math.max(x1 - x0, y1 - y0, z1 - z0)
    if (!(size > 0)) return false
    const scale = (2 ** BITS - 1) / size
    for (let i = from; i < to; i++) {
      const o = 6 * order[i]
      const x = (boxes[o] + boxes[o + 3] - x0) * scale
      const y = (boxes[o + 1] + boxes[o + 4] - y0) * scale
      const z = (boxes[o + 2] + boxes[o + 5] - z0) * scale
      codes[i] = (spread(x) << 2) | (spread(y) << 1) | spread(z)
    }
    // few are not worth many places for their digits
    if (to - from <= BY_HAND) this.insertEach(from, to)
    else {
      const bits = to - from < FEW ? FEW_BITS : BITS
      for (let shift = 0; shift < 3 * BITS; shift += bits) this.sortByDigit(from, to, shift, bits)
    }
    return codes[from] !== codes[to - 1]
  }

  /** Where those from one place to another are to be parted in two. */
  split(from: number, to: number): number {
    const { codes } = this
    const half = (from + to) >> 1
    if (codes[from] === codes[to - 1] && (to - from < MANY || !this.sort(from, to))) return half
    const bit = 31 - Math.clz32(codes[from] ^ codes[to - 1])
    // the first one that has it
    let low = from
    let high = to - 1
    while (low + 1 < high) {
      const middle = (low + high) >> 1
      if ((codes[middle] >> bit) & 1) high = middle
      else low = middle
    }
    return high
  }

  /** The same as passes of a sort by digits, for a handful. */
  private insertEach(from: number, to: number): void {
    const { codes, order } = this
    for (let i = from + 1; i < to; i++) {
      const code = codes[i]
      const triangle = order[i]
      let j = i - 1
      for (; j >= from && codes[j] > code; j--) {
        codes[j + 1] = codes[j]
        order[j + 1] = order[j]
      }
      codes[j + 1] = code
      order[j + 1] = triangle
    }
  }

  /** One pass of a sort by digits: it keeps the order of those of one digit. */
  private sortByDigit(from: number, to: number, shift: number, bits: number): void {
    const { codes, order, spareCodes, spareOrder } = this
    const mask = 2 ** bits - 1
    const at = new Int32Array(mask + 2)
    for (let i = from; i < to; i++) at[((codes[i] >> shift) & mask) + 1]++
    for (let d = 0; d < mask; d++) at[d + 1] += at[d]
    for (let i = from; i < to; i++) {
      const into = from + at[(codes[i] >> shift) & mask]++
      spareCodes[into] = codes[i]
      spareOrder[into] = order[i]
    }
    codes.set(spareCodes.subarray(from, to), from)
    order.set(spareOrder.subarray(from, to), from)
  }
}

/** Bits of a number below 1024 with two free places after each. */
function spread(value: number): number {
  let bits = value | 0
  bits = (bits | (bits << 16)) & 0x030000ff
  bits = (bits | (bits << 8)) & 0x0300f00f
  bits = (bits | (bits << 4)) & 0x030c30c3
  return (bits | (bits << 2)) & 0x09249249
}

/** Puts triangles in order of the axis in which they are flat, those that are flat in none first; gives where each of the four kinds ends. */
function sortedByFlat(order: Int32Array, boxes: Float64Array): Int32Array {
  const n = order.length
  const kind = new Uint8Array(n)
  const at = new Int32Array(5)
  for (let t = 0; t < n; t++) {
    for (let k = 0; k < 3; k++) if (boxes[6 * t + k] === boxes[6 * t + 3 + k]) kind[t] = k + 1
    at[kind[t] + 1]++
  }
  for (let k = 0; k < 4; k++) at[k + 1] += at[k]
  const ends = at.slice(1)
  for (let t = 0; t < n; t++) order[at[kind[t]]++] = t
  return ends
}

function boxesMeet(a: Float64Array, i: number, b: Float64Array, j: number): boolean {
  return a[i] <= b[j + 3] && b[j] <= a[i + 3] && a[i + 1] <= b[j + 4] && b[j + 1] <= a[i + 4] && a[i + 2] <= b[j + 5] && b[j + 2] <= a[i + 5]
}

/** Of each node the owner that all its triangles have; 0 where they have several, or one of them none. */
export function singleOwners({ first, count, right, order }: BoxTree, owners: Int32Array): Int32Array {
  const single = new Int32Array(count.length)
  // children come after their node
  for (let node = order.length === 0 ? -1 : lastNode(count, right); node >= 0; node--) {
    let own = 0
    if (count[node] > 0) {
      own = owners[order[first[node]]]
      for (let i = first[node] + 1; i < first[node] + count[node]; i++) if (owners[order[i]] !== own) own = 0
    } else if (single[node + 1] === single[right[node]]) own = single[node + 1]
    single[node] = own
  }
  return single
}

/** The last node that a tree has: arrays are longer. */
export function lastNode(count: Int32Array, right: Int32Array): number {
  let node = 0
  while (count[node] === 0) node = right[node]
  return node
}

/** Whether boxes do more than touch in an axis. */
const reachesPast = (a: Float64Array, i: number, b: Float64Array, j: number, axis: number): boolean =>
  a[i + axis] < b[j + 3 + axis] && b[j + axis] < a[i + 3 + axis]

/**
 * Calls `visit` for every pair of different triangles whose boxes meet, each pair once; stops when it returns false. Pairs within nodes of the same `single` owner
 * are left out, others that have one owner may come; so are pairs within one node that is `apart`. Where flat triangles are parted from others, pairs of which one is flat in an axis and the other, which is not, lies
 * all on one side of it are left out: they touch at most.
 */
export function forEachMeetingPair(
  tree: BoxTree,
  visit: (s: number, t: number) => boolean,
  { single, apart }: { single?: Int32Array; apart?: Uint8Array } = {},
): void {
  const { boxes, first, count, right, order, triangleBoxes, flat } = tree
  if (order.length === 0) return
  const stack: number[] = [0, 0]
  while (stack.length > 0) {
    const b = stack.pop() as number
    const a = stack.pop() as number
    if (single && single[a] > 0 && single[a] === single[b]) continue
    if (a === b ? apart?.[a] === 1 : !boxesMeet(boxes, 6 * a, boxes, 6 * b)) continue
    // axes in which one of them is flat and the other not
    const known = flat[a] !== flat[b] && flat[a] !== MIXED && flat[b] !== MIXED
    const one = known ? flat[a] - 1 : -1
    const two = known ? flat[b] - 1 : -1
    if (one >= 0 && !reachesPast(boxes, 6 * a, boxes, 6 * b, one)) continue
    if (two >= 0 && !reachesPast(boxes, 6 * a, boxes, 6 * b, two)) continue
    const leafA = count[a] > 0
    const leafB = count[b] > 0
    if (leafA && leafB) {
      for (let i = first[a]; i < first[a] + count[a]; i++) {
        for (let j = a === b ? i + 1 : first[b]; j < first[b] + count[b]; j++) {
          if (!boxesMeet(triangleBoxes, 6 * i, triangleBoxes, 6 * j)) continue
          if (one >= 0 && !reachesPast(triangleBoxes, 6 * i, triangleBoxes, 6 * j, one)) continue
          if (two >= 0 && !reachesPast(triangleBoxes, 6 * i, triangleBoxes, 6 * j, two)) continue
          if (!visit(order[i], order[j])) return
        }
      }
    } else if (a === b) stack.push(a + 1, a + 1, right[a], right[a], a + 1, right[a])
    else if (leafA || (!leafB && boxSize(boxes, b) > boxSize(boxes, a))) stack.push(a, b + 1, a, right[b])
    else stack.push(a + 1, b, right[a], b)
  }
}

/** The longest side of a node's box. */
export function boxSize(boxes: Float64Array, node: number): number {
  const o = 6 * node
  return Math.max(boxes[o + 3] - boxes[o], boxes[o + 4] - boxes[o + 1], boxes[o + 5] - boxes[o + 2])
}
