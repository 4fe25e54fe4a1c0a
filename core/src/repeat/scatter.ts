import { randomShares } from '../cache/random'
import { labelAt, type Solid, triangleCount } from '../solid/solid'
import { normalsOf } from '../solid/shading'
import { NearPlaces } from './near'

export interface Scattered {
  /** x, y, z, and the direction off the surface: six numbers a place */
  readonly places: Float64Array
  readonly letter: Int32Array
}

/** Throws for each place that is expected, and at most. */
const THROWS = 24
const MOST_THROWS = 3_000_000

/**
 * Places on a surface in no order, even by area: none nearer than `apart` mm to another that looks the same way, until no more fit (dart throwing: Cook 1986; triangles
 * by area). `wanted` (0 to 1 a vertex) says how likely a place is kept.
 */
export function scattered(solid: Solid, apart: number, seed: number, wanted?: Float32Array): Scattered {
  const { positions: p, indices } = solid
  const count = triangleCount(solid)
  const sums = new Float64Array(count)
  let area = 0
  for (let t = 0; t < count; t++) {
    const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]]
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]]
    area += Math.sqrt((uy * vz - uz * vy) ** 2 + (uz * vx - ux * vz) ** 2 + (ux * vy - uy * vx) ** 2) / 2
    sums[t] = area
  }
  const next = randomShares(seed)
  const normals = normalsOf(solid)
  const near = new NearPlaces(apart)
  const out: number[] = []
  const letters: number[] = []
  const throws = Math.min(MOST_THROWS, Math.ceil((THROWS * area) / (apart * apart)) + 60)
  for (let i = 0; i < throws; i++) {
    const at = next() * area
    let [lo, hi] = [0, count - 1]
    while (lo < hi) {
      const middle = (lo + hi) >> 1
      if (sums[middle] <= at) lo = middle + 1
      else hi = middle
    }
    // even over a triangle
    const [r, s] = [Math.sqrt(next()), next()]
    const shares = [1 - r, r * (1 - s), r * s]
    const chance = next()
    const place = [0, 0, 0]
    const normal = [0, 0, 0]
    let weight = 0
    for (let k = 0; k < 3; k++) {
      const v = indices[3 * lo + k]
      for (let j = 0; j < 3; j++) {
        place[j] += shares[k] * p[3 * v + j]
        normal[j] += shares[k] * normals[9 * lo + 3 * k + j]
      }
      weight += shares[k] * (wanted ? wanted[v] : 1)
    }
    if (chance >= weight) continue
    const [x, y, z] = place
    const same = (number: number) => out[6 * number + 3] * normal[0] + out[6 * number + 4] * normal[1] + out[6 * number + 5] * normal[2] > 0
    if (near.nearest(x, y, z, same) < apart) continue
    near.add(x, y, z)
    const size = Math.hypot(...normal) || 1
    out.push(x, y, z, normal[0] / size, normal[1] / size, normal[2] / size)
    letters.push(labelAt(solid, lo, 'letter'))
  }
  return { places: Float64Array.from(out), letter: Int32Array.from(letters) }
}
