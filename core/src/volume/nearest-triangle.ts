import { type BoxTree, buildBoxTree } from '../check/tree'
import type { Triangles } from '../solid/from-triangles'
import { toTriangle } from '../solid/nearest'

/** Searches begin at about so many nodes at most: as many more looks as there are layers of the tree above them. */
const STARTS = 12

/** The nearest triangle of one place after the other, among those of a mesh that has some. Ties go to the lower one. */
export class NearestTriangle {
  /** of the nearest triangle; where there is none within the bound it is −1 */
  triangle = -1
  squared = Infinity
  private readonly stack = new Int32Array(256)
  /** squared distances of the boxes on the stack */
  private readonly away = new Float64Array(256)
  /** nodes that searches begin at */
  private readonly start = new Int32Array(STARTS + 1)
  private starts = 1
  private readonly tree: BoxTree

  constructor(private readonly mesh: Triangles) {
    this.tree = buildBoxTree(mesh.positions, mesh.indices)
  }

  /**
   * From here on places are within `half` of a middle along each axis, and look no farther than `reach`: what is far from all of them is passed over once for all.
   * A `reach` of Infinity ends that.
   */
  about(x: number, y: number, z: number, half: number, reach: number): void {
    const { boxes, count, right } = this.tree
    const { start } = this
    start[0] = 0
    this.starts = 1
    if (reach === Infinity) return
    const bound = reach * reach
    const apart = (node: number) => {
      const o = 6 * node
      const dx = Math.max(0, boxes[o] - x - half, x - half - boxes[o + 3])
      const dy = Math.max(0, boxes[o + 1] - y - half, y - half - boxes[o + 4])
      const dz = Math.max(0, boxes[o + 2] - z - half, z - half - boxes[o + 5])
      return dx * dx + dy * dy + dz * dz
    }
    // by layers, so that none of them grows much larger than the others
    for (let i = 0; i < this.starts && this.starts <= STARTS; ) {
      const node = start[i]
      if (count[node] > 0) {
        i++
        continue
      }
      const keep = [node + 1, right[node]].filter((child) => apart(child) <= bound)
      start.copyWithin(i, i + 1, this.starts--)
      for (const child of keep) start[this.starts++] = child
    }
  }

  /** Looks for what is nearer to a place than the root of `bound`; `known`, a triangle or −1, is tried first, and does where it is nearer than the root of `enough`. */
  from(x: number, y: number, z: number, bound: number, known: number, enough = 0): void {
    const { boxes, first, count, right, order } = this.tree
    const { positions, indices } = this.mesh
    const { stack, away } = this
    let squared = bound
    let triangle = -1
    if (known >= 0) {
      const q = toTriangle(x, y, z, positions, 3 * indices[3 * known], 3 * indices[3 * known + 1], 3 * indices[3 * known + 2])
      if (q < squared) {
        squared = q
        triangle = known
      }
      if (q < enough) {
        this.squared = q
        this.triangle = known
        return
      }
    }
    let top = 0
    for (let i = 0; i < this.starts; i++) {
      const node = this.start[i]
      const q = toBox(boxes, 6 * node, x, y, z)
      if (q > squared) continue
      stack[top] = node
      away[top++] = q
    }
    while (top > 0) {
      top--
      if (away[top] > squared) continue
      const node = stack[top]
      const n = count[node]
      if (n > 0) {
        for (let i = first[node]; i < first[node] + n; i++) {
          const t = order[i]
          if (t === known) continue
          const q = toTriangle(x, y, z, positions, 3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2])
          if (q > squared || (q === squared && t > triangle && triangle >= 0)) continue
          squared = q
          triangle = t
        }
        continue
      }
      // the nearer one comes off the stack first
      let [near, far] = [node + 1, right[node]]
      let [q, r] = [toBox(boxes, 6 * near, x, y, z), toBox(boxes, 6 * far, x, y, z)]
      if (q > r) {
        ;[near, far] = [far, near]
        ;[q, r] = [r, q]
      }
      if (r <= squared) {
        stack[top] = far
        away[top++] = r
      }
      if (q <= squared) {
        stack[top] = near
        away[top++] = q
      }
    }
    this.squared = squared
    this.triangle = triangle
  }
}

/** Squared distance of a place from a box, 0 inside. */
function toBox(boxes: Float64Array, o: number, x: number, y: number, z: number): number {
  const dx = x < boxes[o] ? boxes[o] - x : x > boxes[o + 3] ? x - boxes[o + 3] : 0
  const dy = y < boxes[o + 1] ? boxes[o + 1] - y : y > boxes[o + 4] ? y - boxes[o + 4] : 0
  const dz = z < boxes[o + 2] ? boxes[o + 2] - z : z > boxes[o + 5] ? z - boxes[o + 5] : 0
  return dx * dx + dy * dy + dz * dz
}
