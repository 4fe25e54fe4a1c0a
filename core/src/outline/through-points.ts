import { type Path, PathBuilder } from './path'

/** How far along, and the value there. */
export type CurvePoint = readonly [number, number]

/** The slopes at points with which a curve never overshoots them (Fritsch and Carlson, "Monotone piecewise cubic interpolation", 1980). */
function slopesAt(points: readonly CurvePoint[], round = false): number[] {
  const n = points.length
  const slopes = Array.from({ length: n - 1 }, (_, i) => (points[i + 1][1] - points[i][1]) / (points[i + 1][0] - points[i][0]))
  return points.map((_, i) => {
    if (!round && i === 0) return slopes[0]
    if (!round && i === n - 1) return slopes[n - 2]
    // the stretches on both sides; the first and the last one meet where it goes round
    const [j, k] = [i === 0 ? n - 2 : i - 1, i === n - 1 ? 0 : i]
    const [a, b] = [slopes[j], slopes[k]]
    if (a * b <= 0) return 0
    // the harmonic mean, which keeps the curve between its points
    const [before, after] = [points[j + 1][0] - points[j][0], points[k + 1][0] - points[k][0]]
    return (3 * (before + after)) / ((2 * after + before) / a + (after + 2 * before) / b)
  })
}

/** A curve that is read at any place. */
interface ReadCurve {
  value(t: number): number
  slope(t: number): number
}

/**
 * The smooth curve through points that never overshoots them, and its slope: monotone cubic interpolation (Fritsch and Carlson, 1980). Level
 * before the first point and behind the last; `otherwise` where there are none. One that goes round ends at the slope it begins with.
 */
export function curveThrough(given: readonly CurvePoint[], otherwise: number, round = false): ReadCurve {
  const points = round ? fromEndToEnd(given) : given
  const n = points.length
  if (n < 2) return { value: () => points[0]?.[1] ?? otherwise, slope: () => 0 }
  const tangents = slopesAt(points, round)
  const part = (t: number) => {
    let i = 0
    while (i + 2 < n && points[i + 1][0] < t) i++
    const h = points[i + 1][0] - points[i][0]
    return { i, h, f: (t - points[i][0]) / h }
  }
  return {
    value: (t) => {
      if (t <= points[0][0]) return points[0][1]
      if (t >= points[n - 1][0]) return points[n - 1][1]
      const { i, h, f } = part(t)
      const g = 1 - f
      return (1 + 2 * f) * g * g * points[i][1] + f * g * g * h * tangents[i] + f * f * (3 - 2 * f) * points[i + 1][1] - f * f * g * h * tangents[i + 1]
    },
    slope: (t) => {
      if (t < points[0][0] || t > points[n - 1][0]) return 0
      const { i, h, f } = part(t)
      const g = 1 - f
      return (6 * f * g * (points[i + 1][1] - points[i][1])) / h + g * (1 - 3 * f) * tangents[i] + f * (3 * f - 2) * tangents[i + 1]
    },
  }
}

/**
 * Of the curve through points that reach from 0 to 1: its least and most value, and bounds of its slope and of what the slope changes by; undefined where they do not reach so far, and it has
 * corners at their ends.
 */
export function curveBounds(
  points: readonly CurvePoint[],
): { readonly least: number; readonly most: number; readonly slope: number; readonly bend: number } | undefined {
  const n = points.length
  if (n < 2 || points[0][0] > 0 || points[n - 1][0] < 1) return undefined
  const tangents = slopesAt(points)
  const values = points.map(([, value]) => value)
  let [slope, bend] = [0, 0]
  for (let i = 0; i + 1 < n; i++) {
    const h = points[i + 1][0] - points[i][0]
    const rise = (6 * (values[i + 1] - values[i])) / h
    // a cubic's slope changes most at one of its ends
    const most = Math.max(Math.abs(rise - 4 * tangents[i] - 2 * tangents[i + 1]), Math.abs(rise - 2 * tangents[i] - 4 * tangents[i + 1])) / h
    bend = Math.max(bend, most)
    slope = Math.max(slope, Math.abs(tangents[i]) + most * h)
  }
  return { least: Math.min(...values), most: Math.max(...values), slope, bend }
}

/** With points at 0 and 1. */
function fromEndToEnd(points: readonly CurvePoint[]): readonly CurvePoint[] {
  if (points.length === 0) return points
  const [first, last] = [points[0], points[points.length - 1]]
  return [...(first[0] > 0 ? [[0, first[1]] as const] : []), ...points, ...(last[0] < 1 ? [[1, last[1]] as const] : [])]
}

/** The values of `curveThrough`. */
export const throughPoints = (points: readonly CurvePoint[], otherwise: number): ((t: number) => number) => curveThrough(points, otherwise).value

/** The same curve as a path, from [0, its first value] to [1, its last]; points lie at 0 to 1. */
export function pathThrough(points: readonly CurvePoint[]): Path {
  if (points.length === 0) throw new RangeError('a curve needs a point')
  const [first, last] = [points[0], points[points.length - 1]]
  const path = new PathBuilder(0, first[1])
  if (first[0] > 0) path.lineTo(first[0], first[1])
  const slopes = points.length > 1 ? slopesAt(points) : []
  for (let i = 0; i + 1 < points.length; i++) {
    const [[t0, v0], [t1, v1]] = [points[i], points[i + 1]]
    const h = (t1 - t0) / 3
    path.cubicTo(t0 + h, v0 + h * slopes[i], t1 - h, v1 - h * slopes[i + 1], t1, v1)
  }
  if (last[0] < 1) path.lineTo(1, last[1])
  return path.build(false)
}
