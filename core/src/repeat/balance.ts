import type { PolygonSet } from '../outline/polygon'

/** The borders' points nearest to a place on either side of a way through it, as seen from there. */
interface Feet {
  readonly near: readonly [number, number, number]
  readonly far: readonly [number, number, number]
}

/** Two feet lie opposite each other, and square to the way: cosine of the angle between them at most, and with the way. */
const OPPOSITE = Math.cos((150 * Math.PI) / 180)
const SQUARE = Math.sin((30 * Math.PI) / 180)
/** What is off by more of the stroke's width stands where strokes meet, and has no middle. */
const MOST = 0.3
const ROUNDS = 4

/**
 * A place in a stroke moved square to the way that leads through it (degrees) to where both borders are equally far, by exact distance to the polygons; undefined where
 * there are no two borders to be between, as at ends and where strokes meet. Lines down the middle are smoothed and off by some hundredths of the width.
 */
export function balanced(rings: PolygonSet['rings'], x: number, y: number, angle: number): readonly [number, number] | undefined {
  const [dx, dy] = [Math.cos((angle * Math.PI) / 180), Math.sin((angle * Math.PI) / 180)]
  let at: [number, number] = [x, y]
  for (let round = 0; round < ROUNDS; round++) {
    const feet = feetOf(rings, at, dx, dy)
    if (!feet) return undefined
    const { near, far } = feet
    const width = near[2] + far[2]
    const off = (far[2] - near[2]) / 2
    if (off > MOST * width) return undefined
    if (off < 1e-4 * width) break
    const side = -far[0] * dy + far[1] * dx > 0 ? 1 : -1
    at = [at[0] - side * off * dy, at[1] + side * off * dx]
  }
  return at
}

function feetOf(rings: PolygonSet['rings'], [x, y]: readonly [number, number], dx: number, dy: number): Feet | undefined {
  const best: [[number, number, number], [number, number, number]] = [
    [0, 0, Infinity],
    [0, 0, Infinity],
  ]
  for (const { xy } of rings) {
    const n = xy.length
    for (let i = 0, j = n - 2; i < n; j = i, i += 2) {
      const [px, py] = [xy[j] - x, xy[j + 1] - y]
      const [ex, ey] = [xy[i] - xy[j], xy[i + 1] - xy[j + 1]]
      const t = Math.min(1, Math.max(0, -(px * ex + py * ey) / (ex * ex + ey * ey || 1)))
      const [fx, fy] = [px + t * ex, py + t * ey]
      const d = Math.hypot(fx, fy)
      const side = best[-fx * dy + fy * dx > 0 ? 0 : 1]
      if (d < side[2]) [side[0], side[1], side[2]] = [fx, fy, d]
    }
  }
  const [a, b] = best
  if (!(a[2] > 0 && b[2] > 0 && a[2] + b[2] < Infinity)) return undefined
  if ((a[0] * b[0] + a[1] * b[1]) / (a[2] * b[2]) > OPPOSITE) return undefined
  if (best.some(([fx, fy, d]) => Math.abs(fx * dx + fy * dy) > SQUARE * d)) return undefined
  return a[2] < b[2] ? { near: a, far: b } : { near: b, far: a }
}
