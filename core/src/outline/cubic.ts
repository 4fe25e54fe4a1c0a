/** A cubic Bézier curve as eight numbers: start, two controls, end; x, y each. */
export type Cubic = Float64Array

/** [x, y] at parameter t. */
export function cubicAt(c: ArrayLike<number>, t: number): [number, number] {
  const s = 1 - t
  const [a, b, d, e] = [s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t]
  return [a * c[0] + b * c[2] + d * c[4] + e * c[6], a * c[1] + b * c[3] + d * c[5] + e * c[7]]
}

/** [dx/dt, dy/dt] at parameter t. */
export function cubicSlope(c: ArrayLike<number>, t: number): [number, number] {
  const s = 1 - t
  const [a, b, d] = [3 * s * s, 6 * s * t, 3 * t * t]
  return [a * (c[2] - c[0]) + b * (c[4] - c[2]) + d * (c[6] - c[4]), a * (c[3] - c[1]) + b * (c[5] - c[3]) + d * (c[7] - c[5])]
}

/** Unit direction of travel at the start (0) or the end (1), also where a handle has no length; [1, 0] for a point. */
export function endDirectionOf(c: ArrayLike<number>, end: 0 | 1): [number, number] {
  const order = end === 0 ? [2, 4, 6] : [4, 2, 0]
  const [x, y] = end === 0 ? [c[0], c[1]] : [c[6], c[7]]
  for (const k of order) {
    const [dx, dy] = [c[k] - x, c[k + 1] - y]
    const l = Math.hypot(dx, dy)
    if (l > 1e-9) return end === 0 ? [dx / l, dy / l] : [-dx / l, -dy / l]
  }
  return [1, 0]
}

/** The two parts of a curve on either side of t (de Casteljau); new arrays. */
export function splitCubic(c: ArrayLike<number>, t: number): [Cubic, Cubic] {
  const first = new Float64Array(8)
  const second = new Float64Array(8)
  for (let k = 0; k < 2; k++) {
    const a = c[k] + (c[k + 2] - c[k]) * t
    const b = c[k + 2] + (c[k + 4] - c[k + 2]) * t
    const d = c[k + 4] + (c[k + 6] - c[k + 4]) * t
    const e = a + (b - a) * t
    const f = b + (d - b) * t
    const middle = e + (f - e) * t
    first[k] = c[k]
    first[k + 2] = a
    first[k + 4] = e
    first[k + 6] = middle
    second[k] = middle
    second[k + 2] = f
    second[k + 4] = d
    second[k + 6] = c[k + 6]
  }
  return [first, second]
}

/** The part of a curve between two parameters, t0 ≤ t1; a new array. */
export function cubicPart(c: ArrayLike<number>, t0: number, t1: number): Cubic {
  const head = t1 === 1 ? Float64Array.from(c) : splitCubic(c, t1)[0]
  return t0 === 0 || t1 === 0 ? head : splitCubic(head, t0 / t1)[1]
}

/** Twice the signed area between a curve and the origin (Green's theorem), counter-clockwise positive; exact. */
export function cubicDoubleArea(c: ArrayLike<number>): number {
  const cross = (i: number, j: number) => c[2 * i] * c[2 * j + 1] - c[2 * i + 1] * c[2 * j]
  return (6 * cross(0, 1) + 3 * cross(0, 2) + cross(0, 3) + 3 * cross(1, 2) + 3 * cross(1, 3) + 6 * cross(2, 3)) / 10
}
