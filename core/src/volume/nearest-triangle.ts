import { type BoxTree, buildBoxTree } from '../check/tree'
import type { Triangles } from '../solid/from-triangles'
import { toTriangle } from '../solid/nearest'

/** The nearest triangle of one place after the other, among those of a mesh that has some. Ties go to the lower one. */
export class NearestTriangle {
  /** of the nearest triangle; where there is none within the bound it is −1 */
  triangle = -1
  squared = Infinity
  private readonly stack = new Int32Array(256)
  private readonly tree: BoxTree

  constructor(private readonly mesh: Triangles) {
    this.tree = buildBoxTree(mesh.positions, mesh.indices)
  }

  /** Looks for what is nearer to a place than the root of `bound`; `known`, a triangle or −1, is tried first. */
  from(x: number, y: number, z: number, bound: number, known: number): void {
    const { boxes, first, count, right, order } = this.tree
    const { positions, indices } = this.mesh
    const stack = this.stack
    let squared = bound
    let triangle = -1
    if (known >= 0) {
      const q = toTriangle(x, y, z, positions, 3 * indices[3 * known], 3 * indices[3 * known + 1], 3 * indices[3 * known + 2])
      if (q < squared) {
        squared = q
        triangle = known
      }
    }
    let top = 0
    stack[top++] = 0
    while (top > 0) {
      const node = stack[--top]
      if (toBox(boxes, 6 * node, x, y, z) > squared) continue
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
      const left = node + 1
      const other = right[node]
      // the nearer one comes off the stack first
      if (toBox(boxes, 6 * left, x, y, z) <= toBox(boxes, 6 * other, x, y, z)) {
        stack[top++] = other
        stack[top++] = left
      } else {
        stack[top++] = left
        stack[top++] = other
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
