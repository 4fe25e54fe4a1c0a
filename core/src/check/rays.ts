import type { BoxTree } from './tree'

export type Point = readonly [number, number, number]

/**
 * The triangle that a ray meets first, -1 when it meets none nearer than `most` lengths of `way`. What lies nearer than `least` is passed
 * over (Möller & Trumbore, "Fast, minimum storage ray/triangle intersection", 1997).
 */
export function firstMet(tree: BoxTree, positions: ArrayLike<number>, indices: ArrayLike<number>, from: Point, way: Point, least = 0, most = Infinity): number {
  const { boxes, first, count, right, order } = tree
  let [best, met] = [most, -1]
  const stack = order.length > 0 ? [0] : []
  while (stack.length > 0) {
    const node = stack.pop() as number
    if (!meetsBox(boxes, 6 * node, from, way, least, best)) continue
    if (count[node] === 0) {
      stack.push(node + 1, right[node])
      continue
    }
    for (let i = first[node]; i < first[node] + count[node]; i++) {
      const at = lengthTo(positions, indices, order[i], from, way)
      if (at <= least || at >= best) continue
      best = at
      met = order[i]
    }
  }
  return met
}

/** How far a ray goes until it meets a triangle, in lengths of `way`; Infinity when it meets none. What lies nearer than `least` is passed over. */
export function rayLength(tree: BoxTree, positions: ArrayLike<number>, indices: ArrayLike<number>, from: Point, way: Point, least = 0): number {
  const met = firstMet(tree, positions, indices, from, way, least)
  return met < 0 ? Infinity : lengthTo(positions, indices, met, from, way)
}

function meetsBox(boxes: Float64Array, o: number, from: Point, way: Point, least: number, most: number): boolean {
  let enter = least
  let leave = most
  for (let k = 0; k < 3; k++) {
    const low = boxes[o + k] - from[k]
    const high = boxes[o + 3 + k] - from[k]
    // a ray within the plane of a side: outside of it when it starts there
    if (way[k] === 0) {
      if (low > 0 || high < 0) return false
      continue
    }
    const a = low / way[k]
    const b = high / way[k]
    const near = a < b ? a : b
    const far = a < b ? b : a
    if (near > enter) enter = near
    if (far < leave) leave = far
    if (enter > leave) return false
  }
  return true
}

/** How far a ray goes until it meets one triangle, in lengths of `way`, negative behind its start; Infinity when it passes by. */
export function lengthTo(p: ArrayLike<number>, indices: ArrayLike<number>, t: number, from: Point, way: Point): number {
  const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
  const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]]
  const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]]
  const [hx, hy, hz] = [way[1] * vz - way[2] * vy, way[2] * vx - way[0] * vz, way[0] * vy - way[1] * vx]
  const det = ux * hx + uy * hy + uz * hz
  if (det === 0) return Infinity
  const [sx, sy, sz] = [from[0] - p[a], from[1] - p[a + 1], from[2] - p[a + 2]]
  const u = (sx * hx + sy * hy + sz * hz) / det
  if (u < 0 || u > 1) return Infinity
  const [qx, qy, qz] = [sy * uz - sz * uy, sz * ux - sx * uz, sx * uy - sy * ux]
  const v = (way[0] * qx + way[1] * qy + way[2] * qz) / det
  if (v < 0 || u + v > 1) return Infinity
  return (vx * qx + vy * qy + vz * qz) / det
}
