import type { Triangles } from '../solid/from-triangles'
import type { Repaired } from './repair'

/**
 * Places in pictures after a repair, two numbers for each corner: a corner lies in its picture where it lies in the triangle it came from, whatever way that is turned by now; one that
 * closes a hole where it comes nearest to the triangle at the rim. `given` are the places before.
 */
export function pictureUvAfter(
  { positions, indices }: Triangles,
  given: Float32Array,
  repaired: Pick<Repaired, 'positions' | 'indices' | 'source'>,
): Float32Array {
  const out = new Float32Array(2 * repaired.indices.length)
  const shares = new Float64Array(3)
  for (let t = 0; t < repaired.source.length; t++) {
    const from = repaired.source[t]
    const corners = [0, 1, 2].map((k) => 3 * indices[3 * from + k])
    for (let k = 0; k < 3; k++) {
      within(positions, corners, repaired.positions, 3 * repaired.indices[3 * t + k], shares)
      for (let c = 0; c < 2; c++)
        out[2 * (3 * t + k) + c] = shares[0] * given[6 * from + c] + shares[1] * given[6 * from + 2 + c] + shares[2] * given[6 * from + 4 + c]
    }
  }
  return out
}

/** Shares of a triangle's corners that make the point of it that is about nearest to a place (barycentric coordinates, none below nought). */
function within(p: ArrayLike<number>, [a, b, c]: readonly number[], q: Float64Array, o: number, shares: Float64Array): void {
  let [uu, uv, vv, wu, wv] = [0, 0, 0, 0, 0]
  for (let k = 0; k < 3; k++) {
    const u = p[b + k] - p[a + k]
    const v = p[c + k] - p[a + k]
    const w = q[o + k] - p[a + k]
    uu += u * u
    uv += u * v
    vv += v * v
    wu += w * u
    wv += w * v
  }
  const area = uu * vv - uv * uv
  const second = area > 0 ? Math.max(0, (wu * vv - wv * uv) / area) : 0
  const third = area > 0 ? Math.max(0, (wv * uu - wu * uv) / area) : 0
  const sum = Math.max(1, second + third)
  shares[1] = second / sum
  shares[2] = third / sum
  shares[0] = 1 - shares[1] - shares[2]
}
