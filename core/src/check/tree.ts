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
}

const LEAF = 4

/** Builds the tree by splitting at the mean of the longest axis, at the middle of the list where that parts nothing. Positions are x, y, z; indices three a triangle. */
export function buildBoxTree(positions: ArrayLike<number>, indices: ArrayLike<number>): BoxTree {
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
  let used = 0
  const build = (from: number, to: number): number => {
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
    build(from, middle)
    right[node] = build(middle, to)
    return node
  }
  if (n > 0) build(0, n)
  // neighbours in the tree lie next to each other in memory
  const inOrder = new Float64Array(6 * n)
  for (let i = 0; i < n; i++) for (let k = 0; k < 6; k++) inOrder[6 * i + k] = triangleBoxes[6 * order[i] + k]
  return { boxes, first, count, right, order, triangleBoxes: inOrder }
}

function boxesMeet(a: Float64Array, i: number, b: Float64Array, j: number): boolean {
  return a[i] <= b[j + 3] && b[j] <= a[i + 3] && a[i + 1] <= b[j + 4] && b[j + 1] <= a[i + 4] && a[i + 2] <= b[j + 5] && b[j + 2] <= a[i + 5]
}

/** Calls `visit` for every pair of different triangles whose boxes meet, each pair once; stops when it returns false. */
export function forEachMeetingPair(tree: BoxTree, visit: (s: number, t: number) => boolean): void {
  const { boxes, first, count, right, order, triangleBoxes } = tree
  if (order.length === 0) return
  const stack: number[] = [0, 0]
  while (stack.length > 0) {
    const b = stack.pop() as number
    const a = stack.pop() as number
    if (a !== b && !boxesMeet(boxes, 6 * a, boxes, 6 * b)) continue
    const leafA = count[a] > 0
    const leafB = count[b] > 0
    if (leafA && leafB) {
      for (let i = first[a]; i < first[a] + count[a]; i++) {
        for (let j = a === b ? i + 1 : first[b]; j < first[b] + count[b]; j++) {
          if (boxesMeet(triangleBoxes, 6 * i, triangleBoxes, 6 * j) && !visit(order[i], order[j])) return
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
