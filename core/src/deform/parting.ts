/** How many directions are tried: square to each of the six sides within its triangle, which tells most often, both normals, and from middle to middle. */
export const DIRECTIONS = 9
/** Shadows that are further apart than this are, mm: sums over pieces of ten metres are rounded by less than a tenth of it. */
const SURE = 1e-9

/**
 * How far two triangles that have no vertex in common are apart, seen along some directions: what a plane square to one of them parts does not meet. `p`: x, y, z per vertex, mm;
 * `ids`: three vertex numbers a triangle.
 */
export class Parting {
  /** corners of both, seen from the first */
  private readonly at = new Float64Array(18)
  private readonly way = new Float64Array(3)

  constructor(
    private readonly p: Float64Array,
    private readonly ids: Uint32Array,
  ) {}

  /** Takes a pair of triangles in hand. */
  take(s: number, t: number): void {
    const { p, ids, at } = this
    const o = 3 * ids[3 * s]
    const [x, y, z] = [p[o], p[o + 1], p[o + 2]]
    for (let k = 1; k < 6; k++) {
      const v = 3 * (k < 3 ? ids[3 * s + k] : ids[3 * t + k - 3])
      at[3 * k] = p[v] - x
      at[3 * k + 1] = p[v + 1] - y
      at[3 * k + 2] = p[v + 2] - z
    }
  }

  /** The gap between their shadows along a direction, mm; below nought where they overlap, −∞ where there is no such direction. */
  along(direction: number): number {
    const { at, way } = this
    this.point(direction)
    const [x, y, z] = [way[0], way[1], way[2]]
    const size = Math.sqrt(x * x + y * y + z * z)
    if (!(size > 0)) return -Infinity
    const b = at[3] * x + at[4] * y + at[5] * z
    const c = at[6] * x + at[7] * y + at[8] * z
    const d = at[9] * x + at[10] * y + at[11] * z
    const e = at[12] * x + at[13] * y + at[14] * z
    const f = at[15] * x + at[16] * y + at[17] * z
    const low = b < c ? (b < 0 ? b : 0) : c < 0 ? c : 0
    const high = b > c ? (b > 0 ? b : 0) : c > 0 ? c : 0
    const least = d < e ? (d < f ? d : f) : e < f ? e : f
    const most = d > e ? (d > f ? d : f) : e > f ? e : f
    return (low - most > least - high ? low - most : least - high) / size
  }

  /** Whether a plane parts them for sure; the direction given is tried first. */
  surely(first: number): boolean {
    if (first < DIRECTIONS && this.along(first) > SURE) return true
    for (let direction = 0; direction < DIRECTIONS; direction++) if (direction !== first && this.along(direction) > SURE) return true
    return false
  }

  private point(direction: number): void {
    const { at, way } = this
    if (direction === 8) {
      for (let k = 0; k < 3; k++) way[k] = at[9 + k] + at[12 + k] + at[15 + k] - at[3 + k] - at[6 + k]
      return
    }
    const second = direction === 7 || (direction > 2 && direction < 6)
    const o = second ? 9 : 0
    const [ux, uy, uz] = [at[o + 3] - at[o], at[o + 4] - at[o + 1], at[o + 5] - at[o + 2]]
    const [vx, vy, vz] = [at[o + 6] - at[o], at[o + 7] - at[o + 1], at[o + 8] - at[o + 2]]
    const [nx, ny, nz] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx]
    let [x, y, z] = [ux, uy, uz]
    if (direction > 5) {
      way[0] = nx
      way[1] = ny
      way[2] = nz
      return
    }
    const side = second ? direction - 3 : direction
    if (side === 1) {
      x = vx
      y = vy
      z = vz
    } else if (side === 2) {
      x -= vx
      y -= vy
      z -= vz
    }
    way[0] = y * nz - z * ny
    way[1] = z * nx - x * nz
    way[2] = x * ny - y * nx
  }
}
