import { byDifferences, type SpaceMap } from './space-map'
import type { Box } from './units'

export interface Cage {
  readonly kind: 'cage'
  /** [minX, minY, minZ, maxX, maxY, maxZ] mm */
  readonly box: readonly number[]
  /** points along x, y and z, at least two each */
  readonly counts: readonly [number, number, number]
  /** those that are moved: where they stand in the cage, and by how much they are moved, mm */
  readonly moved: readonly { readonly at: readonly [number, number, number]; readonly by: readonly [number, number, number] }[]
}

/**
 * Free-form deformation by a cage of points (Sederberg and Parry, "Free-form deformation of solid geometric models", 1986): each point draws what is
 * near it along, by Bernstein polynomials, so that the surface stays smooth. Beyond the cage things move as its border does.
 */
export function cageMap({ box, counts, moved }: Cage, of?: Box): SpaceMap {
  const weights = counts.map((count) => new Float64Array(count))
  const rows = counts.map((count) => binomials(count - 1))
  return byDifferences((p, o) => {
    for (let k = 0; k < 3; k++) {
      const size = box[3 + k] - box[k]
      const t = size > 0 ? Math.min(1, Math.max(0, (p[o + k] - box[k]) / size)) : 0
      bernstein(t, rows[k], weights[k])
    }
    let [x, y, z] = [0, 0, 0]
    for (const { at, by } of moved) {
      const w = weights[0][at[0]] * weights[1][at[1]] * weights[2][at[2]]
      x += w * by[0]
      y += w * by[1]
      z += w * by[2]
    }
    p[o] += x
    p[o + 1] += y
    p[o + 2] += z
  }, of)
}

function binomials(n: number): Float64Array {
  const row = new Float64Array(n + 1)
  row[0] = 1
  for (let i = 1; i <= n; i++) row[i] = (row[i - 1] * (n - i + 1)) / i
  return row
}

function bernstein(t: number, row: Float64Array, into: Float64Array): void {
  const n = row.length - 1
  for (let i = 0; i <= n; i++) into[i] = row[i] * t ** i * (1 - t) ** (n - i)
}
