const BUCKETS = 4096

/** More than the speed of any point of bodies, m/s. */
export function fastestIn(bodies: readonly { readonly speeds: Float32Array }[]): number {
  let most = 0
  for (const { speeds } of bodies) for (let i = 0; i < speeds.length; i++) most = Math.max(most, Math.abs(speeds[i]))
  return 1.7321 * most
}

/**
 * Visits pairs of places that lie in the same or in neighbouring boxes of a grid, so all that are nearer to each other than `reach`, and some that are not, each pair once, the lower number
 * first. `places`: x, y, z each.
 */
export function forEachNear(places: Float64Array, reach: number, visit: (a: number, b: number) => void): void {
  const count = places.length / 3
  const at = new Int32Array(3 * count)
  for (let i = 0; i < at.length; i++) at[i] = Math.floor(places[i] / reach)
  const bucketOf = (x: number, y: number, z: number) => ((Math.imul(x, 73856093) ^ Math.imul(y, 19349663) ^ Math.imul(z, 83492791)) >>> 0) & (BUCKETS - 1)
  const first = new Int32Array(BUCKETS + 1)
  for (let a = 0; a < count; a++) first[bucketOf(at[3 * a], at[3 * a + 1], at[3 * a + 2]) + 1]++
  for (let i = 0; i < BUCKETS; i++) first[i + 1] += first[i]
  const fill = first.slice(0, BUCKETS)
  const list = new Int32Array(count)
  for (let a = 0; a < count; a++) list[fill[bucketOf(at[3 * a], at[3 * a + 1], at[3 * a + 2])]++] = a
  for (let a = 0; a < count; a++) {
    const o = 3 * a
    for (let x = at[o] - 1; x <= at[o] + 1; x++)
      for (let y = at[o + 1] - 1; y <= at[o + 1] + 1; y++)
        for (let z = at[o + 2] - 1; z <= at[o + 2] + 1; z++) {
          const bucket = bucketOf(x, y, z)
          for (let n = first[bucket]; n < first[bucket + 1]; n++) {
            const b = list[n]
            const q = 3 * b
            if (b > a && at[q] === x && at[q + 1] === y && at[q + 2] === z) visit(a, b)
          }
        }
  }
}
