/** More rounds than this are not made. */
const MOST_ROUNDS = 400

/**
 * Values at vertices blurred over the surface by about a Gaussian of `reach` mm: each vertex takes the mean of its neighbours, nearer ones more, in as
 * many small steps as that takes (explicit diffusion).
 */
export function blurred(values: Float32Array, p: Float64Array, indices: Uint32Array, reach: number): Float32Array {
  if (!(reach > 0)) return values
  const count = values.length
  const weight = new Float64Array(indices.length)
  const sum = new Float64Array(count)
  let [length2, sides] = [0, 0]
  for (let i = 0; i < indices.length; i++) {
    const [a, b] = [indices[i], indices[i % 3 === 2 ? i - 2 : i + 1]]
    const d2 = (p[3 * a] - p[3 * b]) ** 2 + (p[3 * a + 1] - p[3 * b + 1]) ** 2 + (p[3 * a + 2] - p[3 * b + 2]) ** 2
    weight[i] = 1 / Math.max(1e-6, d2)
    sum[a] += weight[i]
    sum[b] += weight[i]
    length2 += d2
    sides++
  }
  // a walk of n steps of that length goes reach far
  const rounds = Math.min(MOST_ROUNDS, Math.max(1, Math.ceil((reach * reach) / Math.max(1e-9, length2 / sides))))
  let now = values
  for (let round = 0; round < rounds; round++) {
    const next = new Float64Array(count)
    for (let i = 0; i < indices.length; i++) {
      const [a, b] = [indices[i], indices[i % 3 === 2 ? i - 2 : i + 1]]
      next[a] += weight[i] * now[b]
      next[b] += weight[i] * now[a]
    }
    const out = new Float32Array(count)
    for (let v = 0; v < count; v++) out[v] = sum[v] > 0 ? 0.5 * now[v] + (0.5 * next[v]) / sum[v] : now[v]
    now = out
  }
  return now
}
