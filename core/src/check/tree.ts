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
 * Builds the tree by splitting at the mean of the longest axis, at the middle of the list where that parts nothing. Positions are x, y, z; indices three a triangle. With
 * `flatsApart` triangles that lie square to an axis are parted from all others first.
 */
export function buildBoxTree(
  positions: ArrayLike<number>,
  indices: ArrayLike<number>,
  { flatsApart = false }: { readonly flatsApart?: boolean } = {},
): BoxTree {
  const n = indices.length / 3
  const triangleBoxes = new Float64Array(6 * n)
  const centre = new Float64Array(3 * n)
  for (let t = 0; t < n; t++) {
    const [i, j, l] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
    for (let k = 0; k < 3; k++) {
      const a = positions[i + k]
      const b = positions[j + k]
      const c = positions[l + k]
      const low = a < b ? (a < c ? a : c) : b < c ? b : c
      const high = a > b ? (a > c ? a : c) : b > c ? b : c
      triangleBoxes[6 * t + k] = low
      triangleBoxes[6 * t + 3 + k] = high
      centre[3 * t + k] = (low + high) / 2
    }
  }
  const order = new Int32Array(n)
  for (let t = 0; t < n; t++) order[t] = t
  const capacity = Math.max(1, 2 * n)
  const boxes = new Float64Array(6 * capacity)
  const first = new Int32Array(capacity)
  const count = new Int32Array(capacity)
  const right = new Int32Array(capacity)
  const flat = new Uint8Array(capacity).fill(MIXED)
  let used = 0
  const enclose = (from: number, to: number): void => {
    const at = 6 * used++
    for (let k = 0; k < 3; k++) {
      boxes[at + k] = Infinity
      boxes[at + 3 + k] = -Infinity
    }
    for (let i = from; i < to; i++)
      for (let k = 0; k < 3; k++) {
        boxes[at + k] = Math.min(boxes[at + k], triangleBoxes[6 * order[i] + k])
        boxes[at + 3 + k] = Math.max(boxes[at + 3 + k], triangleBoxes[6 * order[i] + 3 + k])
      }
  }
  const build = (from: number, to: number, kind: number): number => {
    const node = used++
    let [x0, y0, z0, x1, y1, z1] = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]
    let [sx, sy, sz] = [0, 0, 0]
    for (let i = from; i < to; i++) {
      const o = 6 * order[i]
      if (triangleBoxes[o] < x0) x0 = triangleBoxes[o]
      if (triangleBoxes[o + 1] < y0) y0 = triangleBoxes[o + 1]
      if (triangleBoxes[o + 2] < z0) z0 = triangleBoxes[o + 2]
      if (triangleBoxes[o + 3] > x1) x1 = triangleBoxes[o + 3]
      if (triangleBoxes[o + 4] > y1) y1 = triangleBoxes[o + 4]
      if (triangleBoxes[o + 5] > z1) z1 = triangleBoxes[o + 5]
      const c = o >> 1
      sx += centre[c]
      sy += centre[c + 1]
      sz += centre[c + 2]
    }
    flat[node] = kind
    const at = 6 * node
    boxes[at] = x0
    boxes[at + 1] = y0
    boxes[at + 2] = z0
    boxes[at + 3] = x1
    boxes[at + 4] = y1
    boxes[at + 5] = z1
    if (to - from <= LEAF) {
      first[node] = from
      count[node] = to - from
      return node
    }
    const axis = z1 - z0 > Math.max(x1 - x0, y1 - y0) ? 2 : y1 - y0 > x1 - x0 ? 1 : 0
    const mean = (axis === 0 ? sx : axis === 1 ? sy : sz) / (to - from)
    let middle = from
    for (let i = from; i < to; i++) {
      const t = order[i]
      if (centre[3 * t + axis] >= mean) continue
      order[i] = order[middle]
      order[middle++] = t
    }
    // one far triangle among many near ones would make a deep tree of them
    const least = (to - from) >> 4
    if (middle - from <= least || to - middle <= least) {
      order.subarray(from, to).sort((i, j) => centre[3 * i + axis] - centre[3 * j + axis])
      middle = (from + to) >> 1
    }
    build(from, middle, kind)
    right[node] = build(middle, to, kind)
    return node
  }
  if (n > 0 && flatsApart) {
    const ends = sortedByFlat(order, triangleBoxes)
    /** the node of the kinds from one on, of triangles from one on */
    const kinds = (kind: number, from: number): number => {
      if (kind === 3 || ends[kind] === n) return build(from, n, kind)
      if (ends[kind] === from) return kinds(kind + 1, from)
      const node = used
      enclose(from, n)
      build(from, ends[kind], kind)
      right[node] = kinds(kind + 1, ends[kind])
      return node
    }
    kinds(0, 0)
  } else if (n > 0) build(0, n, MIXED)
  // neighbours in the tree lie next to each other in memory
  const inOrder = new Float64Array(6 * n)
  for (let i = 0; i < n; i++) for (let k = 0; k < 6; k++) inOrder[6 * i + k] = triangleBoxes[6 * order[i] + k]
  return { boxes, first, count, right, order, triangleBoxes: inOrder, flat }
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

function lastNode(count: Int32Array, right: Int32Array): number {
  let node = 0
  while (count[node] === 0) node = right[node]
  return node
}

/** Whether boxes do more than touch in an axis. */
const reachesPast = (a: Float64Array, i: number, b: Float64Array, j: number, axis: number): boolean =>
  a[i + axis] < b[j + 3 + axis] && b[j + axis] < a[i + 3 + axis]

/**
 * Calls `visit` for every pair of different triangles whose boxes meet, each pair once; stops when it returns false. Pairs within nodes of the same `single` owner
 * are left out, others that have one owner may come. Where flat triangles are parted from others, pairs of which one is flat in an axis and the other, which is not, lies
 * all on one side of it are left out: they touch at most.
 */
export function forEachMeetingPair(tree: BoxTree, visit: (s: number, t: number) => boolean, single?: Int32Array): void {
  const { boxes, first, count, right, order, triangleBoxes, flat } = tree
  if (order.length === 0) return
  const stack: number[] = [0, 0]
  while (stack.length > 0) {
    const b = stack.pop() as number
    const a = stack.pop() as number
    if (single && single[a] > 0 && single[a] === single[b]) continue
    if (a !== b && !boxesMeet(boxes, 6 * a, boxes, 6 * b)) continue
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

function boxSize(boxes: Float64Array, node: number): number {
  const o = 6 * node
  return Math.max(boxes[o + 3] - boxes[o], boxes[o + 4] - boxes[o + 1], boxes[o + 5] - boxes[o + 2])
}
