/** A place on a stroke: x, y and half the width there, mm. */
export type Spot = readonly [number, number, number]
export type Line = readonly Spot[]

export const unit = (x: number, y: number): [number, number] => {
  const size = Math.hypot(x, y)
  return size > 0 ? [x / size, y / size] : [0, 0]
}

const between = (a: Spot, b: Spot, f: number): Spot => [a[0] + f * (b[0] - a[0]), a[1] + f * (b[1] - a[1]), a[2] + f * (b[2] - a[2])]

/** Lengths from the start of a line to each of its points, mm. */
export function lengthsOf(line: Line): Float64Array {
  const out = new Float64Array(line.length)
  for (let i = 1; i < line.length; i++) out[i] = out[i - 1] + Math.hypot(line[i][0] - line[i - 1][0], line[i][1] - line[i - 1][1])
  return out
}

/** The place a length along a line, given its lengths. */
export function spotAt(line: Line, lengths: Float64Array, s: number): Spot {
  let [lo, hi] = [0, line.length - 1]
  while (hi - lo > 1) {
    const mid = (lo + hi) >> 1
    if (lengths[mid] <= s) lo = mid
    else hi = mid
  }
  const size = lengths[hi] - lengths[lo]
  return between(line[lo], line[hi], size > 0 ? Math.max(0, Math.min(1, (s - lengths[lo]) / size)) : 0)
}

/** Points evenly along a line, about `step` apart, its ends among them. */
export function resampled(line: Line, step: number): Line {
  const lengths = lengthsOf(line)
  const whole = lengths[lengths.length - 1] ?? 0
  if (line.length < 2 || whole === 0) return line
  const count = Math.max(1, Math.round(whole / step))
  return Array.from({ length: count + 1 }, (_, i) => (i === count ? line[line.length - 1] : spotAt(line, lengths, (whole * i) / count)))
}

/** The first part of a line, so long, mm; undefined where that is no line yet. */
export function firstPart(line: Line, length: number): Line | undefined {
  const lengths = lengthsOf(line)
  if (length >= (lengths[lengths.length - 1] ?? 0)) return line
  const end = lengths.findIndex((l) => l >= length)
  return end < 1 || length < 1e-3 ? undefined : [...line.slice(0, end), spotAt(line, lengths, length)]
}
