/** The volume of a solid or any closed triangles, mm³ where their places are mm (divergence theorem). */
export function volumeOf({ positions: p, indices }: { readonly positions: ArrayLike<number>; readonly indices: ArrayLike<number> }): number {
  let sum = 0
  for (let i = 0; i < indices.length; i += 3) {
    const [a, b, c] = [3 * indices[i], 3 * indices[i + 1], 3 * indices[i + 2]]
    sum += p[a] * (p[b + 1] * p[c + 2] - p[b + 2] * p[c + 1]) - p[a + 1] * (p[b] * p[c + 2] - p[b + 2] * p[c]) + p[a + 2] * (p[b] * p[c + 1] - p[b + 1] * p[c])
  }
  return sum / 6
}
