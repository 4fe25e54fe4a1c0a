import type { SpaceMap } from './space-map'

export interface Bulge {
  readonly kind: 'bulge'
  readonly centre: readonly [number, number, number]
  /** which of x, y and z take part: all for a ball, two for a cylinder about the third */
  readonly axes: readonly [boolean, boolean, boolean]
  /** mm from the centre, beyond which nothing is moved */
  readonly radius: number
  /** how many times as large the middle becomes, less one; −1 < amount */
  readonly amount: number
}

/** The amounts within which no two points come to lie at one place: r·(1 + a·(1 − r²)²) rises everywhere from −1 to 1.25. */
export const BULGE_LIMITS = [-0.95, 1.2] as const

/** Space swollen about a point, or drawn in there, fading smoothly to the edge. */
export function bulgeMap({ centre: [cx, cy, cz], axes: [x, y, z], radius, amount }: Bulge): SpaceMap {
  const whole = radius * radius
  return (p, o, j, q = 0) => {
    const [dx, dy, dz] = [p[o] - cx, p[o + 1] - cy, p[o + 2] - cz]
    const share = ((x ? dx * dx : 0) + (y ? dy * dy : 0) + (z ? dz * dz : 0)) / whole
    if (share >= 1) return
    const factor = 1 + amount * (1 - share) ** 2
    if (j) {
      const steep = (-4 * amount * (1 - share)) / whole
      const [gx, gy, gz] = [x ? steep * dx : 0, y ? steep * dy : 0, z ? steep * dz : 0]
      for (let c = q; c < q + 3; c++) {
        const more = gx * j[c] + gy * j[c + 3] + gz * j[c + 6]
        if (x) j[c] = factor * j[c] + dx * more
        if (y) j[c + 3] = factor * j[c + 3] + dy * more
        if (z) j[c + 6] = factor * j[c + 6] + dz * more
      }
    }
    if (x) p[o] = cx + dx * factor
    if (y) p[o + 1] = cy + dy * factor
    if (z) p[o + 2] = cz + dz * factor
  }
}
