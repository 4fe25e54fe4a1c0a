/** Unit normals at points, of the areas of the triangles that have them: x, y, z each. By sums, products and roots only, so that a simulation gives the same bytes everywhere (vertexNormals of `lay` need not). */
export function pointNormals(p: ArrayLike<number>, triangles: ArrayLike<number>, points = p.length / 3): Float64Array {
  const out = new Float64Array(3 * points)
  for (let i = 0; i < triangles.length; i += 3) {
    const a = 3 * triangles[i]
    const b = 3 * triangles[i + 1]
    const c = 3 * triangles[i + 2]
    const [ux, uy, uz, vx, vy, vz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2], p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]]
    for (let k = 0; k < 3; k++) {
      const o = 3 * triangles[i + k]
      out[o] += uy * vz - uz * vy
      out[o + 1] += uz * vx - ux * vz
      out[o + 2] += ux * vy - uy * vx
    }
  }
  for (let o = 0; o < out.length; o += 3) {
    const length = Math.sqrt(out[o] ** 2 + out[o + 1] ** 2 + out[o + 2] ** 2) || 1
    for (let k = 0; k < 3; k++) out[o + k] /= length
  }
  return out
}
