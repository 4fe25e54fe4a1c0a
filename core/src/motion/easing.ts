/** The two handles of a cubic Bézier from (0, 0) to (1, 1): x1, y1, x2, y2; times stay within 0 and 1, values may leave it. */
export type Bezier = readonly [number, number, number, number]

/** Ways from one key to the next, under plain names. */
export const EASES = {
  even: [0, 0, 1, 1],
  gentle: [0.4, 0, 0.6, 1],
  'slow start': [0.5, 0, 1, 1],
  'slow end': [0, 0, 0.5, 1],
  swift: [0.8, 0, 0.2, 1],
  'beyond and back': [0.3, 1.6, 0.6, 1],
  'back first': [0.4, 0, 0.7, -0.6],
} as const satisfies Record<string, Bezier>
export type Ease = keyof typeof EASES

/** One coordinate of the curve with handles p and q, and its slope. */
const at = (p: number, q: number, s: number) => ((1 - 3 * q + 3 * p) * s + (3 * q - 6 * p)) * s * s + 3 * p * s
const slope = (p: number, q: number, s: number) => 3 * (1 - 3 * q + 3 * p) * s * s + 2 * (3 * q - 6 * p) * s + 3 * p

/** How far a movement is at a share of its time, by the curve: its value where its time is t (0 to 1), to 1e-12. */
export function eased([x1, y1, x2, y2]: Bezier, t: number): number {
  if (t <= 0) return 0
  if (t >= 1) return 1
  if (x1 === y1 && x2 === y2) return t
  // times never run back, so that there is one place; Newton, held between two ends that close in
  let [low, high, s] = [0, 1, t]
  for (let i = 0; i < 60; i++) {
    const off = at(x1, x2, s) - t
    if (Math.abs(off) < 1e-14) break
    if (off > 0) high = s
    else low = s
    const steep = slope(x1, x2, s)
    const next = s - off / steep
    s = steep > 1e-9 && next > low && next < high ? next : (low + high) / 2
  }
  return at(y1, y2, s)
}
