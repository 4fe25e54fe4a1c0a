/** Whether a triangle's own box meets a box [minX, minY, minZ, maxX, maxY, maxZ], mm. */
export function triangleMeets(p: ArrayLike<number>, indices: ArrayLike<number>, triangle: number, box: readonly number[]): boolean {
  const a = 3 * indices[3 * triangle]
  const b = 3 * indices[3 * triangle + 1]
  const c = 3 * indices[3 * triangle + 2]
  return !(
    (p[a] < box[0] && p[b] < box[0] && p[c] < box[0]) ||
    (p[a] > box[3] && p[b] > box[3] && p[c] > box[3]) ||
    (p[a + 1] < box[1] && p[b + 1] < box[1] && p[c + 1] < box[1]) ||
    (p[a + 1] > box[4] && p[b + 1] > box[4] && p[c + 1] > box[4]) ||
    (p[a + 2] < box[2] && p[b + 2] < box[2] && p[c + 2] < box[2]) ||
    (p[a + 2] > box[5] && p[b + 2] > box[5] && p[c + 2] > box[5])
  )
}
