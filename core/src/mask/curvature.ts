import type { Solid } from '../solid/solid'

/**
 * The sharper principal curvature at each vertex, 1/mm, above nought where the surface is convex: from the mean curvature by cotangents and the
 * Gaussian by angles, over the mixed area about the vertex (Meyer, Desbrun, Schröder & Barr, "Discrete differential-geometry operators", 2003).
 */
export function curvatures({ positions: p, indices }: Pick<Solid, 'positions' | 'indices'>): Float64Array {
  const count = p.length / 3
  const mean = new Float64Array(3 * count)
  const normal = new Float64Array(3 * count)
  const angles = new Float64Array(count)
  const area = new Float64Array(count)
  for (let t = 0; t < indices.length; t += 3) {
    const at = [indices[t], indices[t + 1], indices[t + 2]]
    const side = (a: number, b: number) => [p[3 * b] - p[3 * a], p[3 * b + 1] - p[3 * a + 1], p[3 * b + 2] - p[3 * a + 2]]
    const [ab, ac] = [side(at[0], at[1]), side(at[0], at[2])]
    const n = [ab[1] * ac[2] - ab[2] * ac[1], ab[2] * ac[0] - ab[0] * ac[2], ab[0] * ac[1] - ab[1] * ac[0]]
    const double = Math.hypot(n[0], n[1], n[2])
    if (!(double > 1e-18)) continue
    const cot = [0, 0, 0]
    const lengths2 = [0, 0, 0]
    for (let k = 0; k < 3; k++) {
      const [u, v] = [side(at[k], at[(k + 1) % 3]), side(at[k], at[(k + 2) % 3])]
      const dot = u[0] * v[0] + u[1] * v[1] + u[2] * v[2]
      cot[k] = dot / double
      angles[at[k]] += Math.atan2(double, dot)
      lengths2[k] = u[0] * u[0] + u[1] * u[1] + u[2] * u[2]
    }
    const obtuse = cot.findIndex((c) => c < 0)
    for (let k = 0; k < 3; k++) {
      const [a, b, c] = [at[k], at[(k + 1) % 3], at[(k + 2) % 3]]
      // the mixed area: Voronoi's, or half or a quarter of the triangle where that would lie outside
      area[a] += obtuse < 0 ? (lengths2[k] * cot[(k + 2) % 3] + lengths2[(k + 2) % 3] * cot[(k + 1) % 3]) / 8 : obtuse === k ? double / 4 : double / 8
      for (let j = 0; j < 3; j++) {
        normal[3 * a + j] += n[j]
        // each side by the cotangents of the corners over against it
        mean[3 * a + j] += cot[(k + 2) % 3] * (p[3 * b + j] - p[3 * a + j]) + cot[(k + 1) % 3] * (p[3 * c + j] - p[3 * a + j])
      }
    }
  }
  const out = new Float64Array(count)
  for (let v = 0; v < count; v++) {
    if (!(area[v] > 0)) continue
    const size = Math.hypot(mean[3 * v], mean[3 * v + 1], mean[3 * v + 2])
    const inward = mean[3 * v] * normal[3 * v] + mean[3 * v + 1] * normal[3 * v + 1] + mean[3 * v + 2] * normal[3 * v + 2] < 0
    const h = ((inward ? 1 : -1) * size) / (4 * area[v])
    const gauss = (2 * Math.PI - angles[v]) / area[v]
    const spread = Math.sqrt(Math.max(0, h * h - gauss))
    out[v] = h >= 0 ? h + spread : h - spread
  }
  return out
}
