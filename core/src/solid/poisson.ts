/** What the solver gives back: a value and its gradient for every vertex. */
export interface Field {
  readonly u: Float64Array
  /** x, y per vertex; area-weighted mean of the triangles about it */
  readonly gradient: Float64Array
  /** iterations taken, for the curious */
  readonly iterations: number
}

/**
 * Solves −Δu + κ²·u = 1 on a triangulated region with u = 0 where `fixed` is set (a membrane under even pressure; κ > 0 stands it on
 * springs, so that it flattens in the middle). Linear finite elements with a lumped mass (Strang and Fix, "An Analysis of the Finite
 * Element Method", 1973), conjugate gradients with the diagonal as preconditioner.
 *
 * x, y: mm per vertex; triangles: three vertex ids each, counter-clockwise; vertices in no triangle get 0. κ in 1/mm.
 */
export function solveMembrane(x: ArrayLike<number>, y: ArrayLike<number>, triangles: ArrayLike<number>, fixed: ArrayLike<number>, kappa: number): Field {
  const n = x.length
  const mass = new Float64Array(n)
  const diagonal = new Float64Array(n)
  const off = new Map<number, number>()
  const couple = (a: number, b: number, w: number) => {
    const key = a < b ? a * 67108864 + b : b * 67108864 + a
    off.set(key, (off.get(key) ?? 0) - w)
    diagonal[a] += w
    diagonal[b] += w
  }
  for (let i = 0; i < triangles.length; i += 3) {
    const [a, b, c] = [triangles[i], triangles[i + 1], triangles[i + 2]]
    const [abx, aby, acx, acy] = [x[b] - x[a], y[b] - y[a], x[c] - x[a], y[c] - y[a]]
    const double = abx * acy - aby * acx
    if (double <= 0) continue
    const [bcx, bcy] = [x[c] - x[b], y[c] - y[b]]
    // half the cotangent of the angle opposite each side
    couple(b, c, (abx * acx + aby * acy) / (2 * double))
    couple(a, c, -(abx * bcx + aby * bcy) / (2 * double))
    couple(a, b, (acx * bcx + acy * bcy) / (2 * double))
    for (const v of [a, b, c]) mass[v] += double / 6
  }
  // compressed rows of the free vertices' couplings
  const counts = new Int32Array(n + 1)
  for (const key of off.keys()) {
    const a = Math.floor(key / 67108864)
    const b = key - a * 67108864
    if (fixed[a] || fixed[b]) continue
    counts[a + 1]++
    counts[b + 1]++
  }
  for (let i = 0; i < n; i++) counts[i + 1] += counts[i]
  const column = new Int32Array(counts[n])
  const weight = new Float64Array(counts[n])
  const at = counts.slice(0, n)
  for (const [key, w] of off) {
    const a = Math.floor(key / 67108864)
    const b = key - a * 67108864
    if (fixed[a] || fixed[b]) continue
    column[at[a]] = b
    weight[at[a]++] = w
    column[at[b]] = a
    weight[at[b]++] = w
  }
  const u = new Float64Array(n)
  const r = new Float64Array(n)
  const z = new Float64Array(n)
  const p = new Float64Array(n)
  const q = new Float64Array(n)
  const free: number[] = []
  for (let i = 0; i < n; i++) {
    diagonal[i] += kappa * kappa * mass[i]
    if (!fixed[i] && mass[i] > 0 && diagonal[i] > 0) free.push(i)
  }
  let rz = 0
  let start = 0
  for (const i of free) {
    r[i] = mass[i]
    z[i] = r[i] / diagonal[i]
    p[i] = z[i]
    rz += r[i] * z[i]
    start += r[i] * r[i]
  }
  const most = 20 * Math.ceil(Math.sqrt(n)) + 200
  let iterations = 0
  while (iterations < most && free.length > 0) {
    iterations++
    let pq = 0
    for (const i of free) {
      let sum = diagonal[i] * p[i]
      for (let k = counts[i]; k < counts[i + 1]; k++) sum += weight[k] * p[column[k]]
      q[i] = sum
      pq += p[i] * sum
    }
    if (!(pq > 0)) break
    const alpha = rz / pq
    let left = 0
    let next = 0
    for (const i of free) {
      u[i] += alpha * p[i]
      r[i] -= alpha * q[i]
      left += r[i] * r[i]
      z[i] = r[i] / diagonal[i]
      next += r[i] * z[i]
    }
    if (left <= 1e-14 * start) break
    const beta = next / rz
    rz = next
    for (const i of free) p[i] = z[i] + beta * p[i]
  }
  return { u, gradient: gradientOf(x, y, triangles, u), iterations }
}

function gradientOf(x: ArrayLike<number>, y: ArrayLike<number>, triangles: ArrayLike<number>, u: Float64Array): Float64Array {
  const gradient = new Float64Array(2 * u.length)
  const area = new Float64Array(u.length)
  for (let i = 0; i < triangles.length; i += 3) {
    const [a, b, c] = [triangles[i], triangles[i + 1], triangles[i + 2]]
    const [abx, aby, acx, acy] = [x[b] - x[a], y[b] - y[a], x[c] - x[a], y[c] - y[a]]
    const double = abx * acy - aby * acx
    if (double <= 0) continue
    const [ub, uc] = [u[b] - u[a], u[c] - u[a]]
    // the gradient times twice the area
    const [gx, gy] = [ub * acy - uc * aby, uc * abx - ub * acx]
    for (const v of [a, b, c]) {
      gradient[2 * v] += gx
      gradient[2 * v + 1] += gy
      area[v] += double
    }
  }
  for (let v = 0; v < u.length; v++)
    if (area[v] > 0) {
      gradient[2 * v] /= area[v]
      gradient[2 * v + 1] /= area[v]
    }
  return gradient
}
