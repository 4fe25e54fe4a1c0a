/** The nearest point of a triangle. */
export const nearest = new Float64Array(3)
/** The weights of the triangle's second and third corner there: 0 on the sides against them, and together 1 on that against the first. */
export const weights = new Float64Array(2)

/**
 * Squared distance of a point from a triangle whose corners begin at a, b, c in `pos`; the point of the triangle that is nearest goes into
 * `nearest`, and how it lies between them into `weights` (Ericson, "Real-Time Collision Detection", 5.1.5).
 */
export function toTriangle(px: number, py: number, pz: number, pos: ArrayLike<number>, a: number, b: number, c: number): number {
  const ax = pos[a]
  const ay = pos[a + 1]
  const az = pos[a + 2]
  const abx = pos[b] - ax
  const aby = pos[b + 1] - ay
  const abz = pos[b + 2] - az
  const acx = pos[c] - ax
  const acy = pos[c + 1] - ay
  const acz = pos[c + 2] - az
  const apx = px - ax
  const apy = py - ay
  const apz = pz - az
  const d1 = abx * apx + aby * apy + abz * apz
  const d2 = acx * apx + acy * apy + acz * apz
  let v = 0
  let w = 0
  if (!(d1 <= 0 && d2 <= 0)) {
    const bb = abx * abx + aby * aby + abz * abz
    const bc = abx * acx + aby * acy + abz * acz
    const cc = acx * acx + acy * acy + acz * acz
    const d3 = d1 - bb
    const d4 = d2 - bc
    const d5 = d1 - bc
    const d6 = d2 - cc
    const vc = d1 * d4 - d3 * d2
    const vb = d5 * d2 - d1 * d6
    const va = d3 * d6 - d5 * d4
    if (d3 >= 0 && d4 <= d3) v = 1
    else if (vc <= 0 && d1 >= 0 && d3 <= 0) v = d1 / (d1 - d3)
    else if (d6 >= 0 && d5 <= d6) w = 1
    else if (vb <= 0 && d2 >= 0 && d6 <= 0) w = d2 / (d2 - d6)
    else if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
      w = (d4 - d3) / (d4 - d3 + (d5 - d6))
      v = 1 - w
    } else {
      const q = 1 / (va + vb + vc)
      v = vb * q
      w = vc * q
    }
  }
  weights[0] = v
  weights[1] = w
  nearest[0] = ax + v * abx + w * acx
  nearest[1] = ay + v * aby + w * acy
  nearest[2] = az + v * abz + w * acz
  return (px - nearest[0]) ** 2 + (py - nearest[1]) ** 2 + (pz - nearest[2]) ** 2
}
