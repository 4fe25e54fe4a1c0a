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
  /** box of each triangle, six numbers */
  readonly triangleBoxes: Float64Array
}

const LEAF = 4

/** Builds the tree by splitting at the mean of the longest axis, at the middle of the list where that parts nothing. Positions are x, y, z; indices three a triangle. */
export function buildBoxTree(positions: ArrayLike<number>, indices: ArrayLike<number>): BoxTree {
  const n = indices.length / 3
  const triangleBoxes = new Float64Array(6 * n)
  const centre = new Float64Array(3 * n)
  for (let t = 0; t < n; t++) {
    for (let k = 0; k < 3; k++) {
      const a = positions[3 * indices[3 * t] + k]
      const b = positions[3 * indices[3 * t + 1] + k]
      const c = positions[3 * indices[3 * t + 2] + k]
      triangleBoxes[6 * t + k] = Math.min(a, b, c)
      triangleBoxes[6 * t + 3 + k] = Math.max(a, b, c)
      centre[3 * t + k] = (triangleBoxes[6 * t + k] + triangleBoxes[6 * t + 3 + k]) / 2
    }
  }
  const order = Int32Array.from({ length: n }, (_, i) => i)
  const capacity = Math.max(1, 2 * n)
  const boxes = new Float64Array(6 * capacity)
  const first = new Int32Array(capacity)
  const count = new Int32Array(capacity)
  const right = new Int32Array(capacity)
  let used = 0
  const build = (from: number, to: number): number => {
    const node = used++
    const box = boxes.subarray(6 * node, 6 * node + 6)
    box.fill(Infinity, 0, 3)
    box.fill(-Infinity, 3, 6)
    for (let i = from; i < to; i++) {
      const o = 6 * order[i]
      for (let k = 0; k < 3; k++) {
        if (triangleBoxes[o + k] < box[k]) box[k] = triangleBoxes[o + k]
        if (triangleBoxes[o + 3 + k] > box[k + 3]) box[k + 3] = triangleBoxes[o + 3 + k]
      }
    }
    if (to - from <= LEAF) {
      first[node] = from
      count[node] = to - from
      return node
    }
    let axis = 0
    for (let k = 1; k < 3; k++) if (box[k + 3] - box[k] > box[axis + 3] - box[axis]) axis = k
    let mean = 0
    for (let i = from; i < to; i++) mean += centre[3 * order[i] + axis]
    mean /= to - from
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
  return { boxes, first, count, right, order, triangleBoxes }
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
          if (boxesMeet(triangleBoxes, 6 * order[i], triangleBoxes, 6 * order[j]) && !visit(order[i], order[j])) return
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
