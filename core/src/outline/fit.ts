import { type Path, PathBuilder } from './path'

export interface FitOptions {
  /** largest distance between the points and the curve, mm */
  readonly tolerance: number
  /** a turn of more than this at a point is a corner and stays one, degrees; default 30 */
  readonly corner?: number
  /** the points that are corners, by index and rising, instead of those found by their turn */
  readonly corners?: readonly number[]
  /** as few nodes as can be: every curve reaches as far as the tolerance lets it, which takes a few times longer */
  readonly fewest?: boolean
}

/**
 * A path of cubic curves and lines through a polyline's corners, within `tolerance` of all its points and of the middles
 * between them. Least squares fitting with reparametrisation by Newton's method (Schneider 1990, "An algorithm for
 * automatically fitting digitized curves"); corners are found first and kept. `xy` holds x, y pairs and is not changed.
 */
export function fitPath(xy: ArrayLike<number>, closed: boolean, options: FitOptions): Path {
  const n = xy.length / 2
  const corner = Math.cos(((options.corner ?? 30) * Math.PI) / 180)
  if (n < 3) {
    const builder = new PathBuilder(xy[0], xy[1])
    if (n > 1) builder.lineTo(xy[2], xy[3])
    return builder.build(closed)
  }
  const corners: number[] = options.corners?.slice() ?? []
  for (let i = 0; i < n && !options.corners; i++) {
    if (!closed && (i === 0 || i === n - 1)) {
      corners.push(i)
      continue
    }
    const [p, q] = [(i + n - 1) % n, (i + 1) % n]
    const [ax, ay] = [xy[2 * i] - xy[2 * p], xy[2 * i + 1] - xy[2 * p + 1]]
    const [bx, by] = [xy[2 * q] - xy[2 * i], xy[2 * q + 1] - xy[2 * i + 1]]
    const la = Math.hypot(ax, ay)
    const lb = Math.hypot(bx, by)
    if (la === 0 || lb === 0) continue
    const turn = (ax * bx + ay * by) / (la * lb)
    // a long side beside a short one begins or ends a straight part
    const straight = Math.max(la, lb) > 12 * Math.min(la, lb) && turn < 0.99999
    if (turn < corner || straight) corners.push(i)
  }
  const first = corners[0] ?? 0
  const builder = new PathBuilder(xy[2 * first], xy[2 * first + 1])
  // a closed line without corners is fitted as two halves, smooth where they meet
  const stops = corners.length > 0 ? corners : [0, n >> 1]
  const smooth = corners.length === 0
  const spans = closed ? stops.length : stops.length - 1
  for (let k = 0; k < spans; k++) {
    const from = stops[k]
    const to = k + 1 < stops.length ? stops[k + 1] : stops[0] + n
    const points = new Float64Array(2 * (to - from + 1))
    for (let i = from; i <= to; i++) {
      points[2 * (i - from)] = xy[2 * (i % n)]
      points[2 * (i - from) + 1] = xy[2 * (i % n) + 1]
    }
    fitSpan(points, smooth ? tangentAt(xy, n, from) : undefined, smooth ? tangentAt(xy, n, to % n) : undefined, options, builder)
  }
  return builder.build(closed)
}

type Vector = readonly [number, number]

/** Direction of a closed polyline at a point, from its neighbours. */
function tangentAt(xy: ArrayLike<number>, n: number, i: number): Vector {
  const [p, q] = [(i + n - 1) % n, (i + 1) % n]
  return unit(xy[2 * q] - xy[2 * p], xy[2 * q + 1] - xy[2 * p + 1])
}

function unit(x: number, y: number): Vector {
  const l = Math.hypot(x, y)
  return l === 0 ? [0, 0] : [x / l, y / l]
}

/** Direction with which points leave their first (`sign` 1) or arrive at their last (−1), of the parabola through three of them. */
function endDirection(p: Float64Array, sign: 1 | -1): Vector {
  const n = p.length / 2
  const at = (k: number): Vector => (sign === 1 ? [p[2 * k], p[2 * k + 1]] : [p[2 * (n - 1 - k)], p[2 * (n - 1 - k) + 1]])
  const [a, b] = [at(0), at(1)]
  if (n === 2) return unit(b[0] - a[0], b[1] - a[1])
  const c = at(2)
  const [u, v] = [Math.hypot(b[0] - a[0], b[1] - a[1]), Math.hypot(c[0] - b[0], c[1] - b[1])]
  if (u === 0 || v === 0) return unit(c[0] - a[0], c[1] - a[1])
  const d = (k: 0 | 1) => (b[k] - a[k]) / u + (u * ((b[k] - a[k]) / u - (c[k] - b[k]) / v)) / (u + v)
  return unit(d(0), d(1))
}

/** Fits one span between corners; `start` and `end` are given directions of travel, taken from the points when left out. */
function fitSpan(points: Float64Array, start: Vector | undefined, end: Vector | undefined, { tolerance, fewest }: FitOptions, out: PathBuilder): void {
  const n = points.length / 2
  if (isStraight(points, Math.min(tolerance * 0.5, 0.002))) {
    out.lineTo(points[2 * n - 2], points[2 * n - 1])
    return
  }
  const t0 = start ?? endDirection(points, 1)
  const back = endDirection(points, -1)
  const t1: Vector = end ? [-end[0], -end[1]] : back
  const fine = divided(points, tolerance)
  if (fewest) fitFewest(fine, t0, t1, tolerance, out)
  else fitCubic(fine, 0, fine.length / 2 - 1, t0, t1, tolerance, out, 0)
}

/** From one end to the other, each curve as far as it can reach within the tolerance. */
function fitFewest(p: Float64Array, t0: Vector, t1: Vector, tolerance: number, out: PathBuilder): void {
  const n = p.length / 2
  const lengths = new Float64Array(n)
  for (let i = 1; i < n; i++) lengths[i] = lengths[i - 1] + Math.hypot(p[2 * i] - p[2 * i - 2], p[2 * i + 1] - p[2 * i - 1])
  let from = 0
  let last = 16
  let start = t0
  while (from < n - 1) {
    const attempt = (to: number) => {
      const tangent: Vector = to === n - 1 ? [-t1[0], -t1[1]] : directionAmong(p, to)
      return { to, tangent, curve: fitBetween(p, lengths, from, to, start, [-tangent[0], -tangent[1]], tolerance) }
    }
    let best: ReturnType<typeof attempt> = { ...attempt(Math.min(n - 1, from + 1)), curve: undefined }
    let low = from + 1
    let high = n
    // reaching out in growing strides, from what the last curve reached, keeps the spans that are tried short
    for (let stride = Math.max(8, last >> 1); low < n - 1; stride *= 2) {
      const to = Math.min(n - 1, from + stride)
      const tried = attempt(to)
      if (tried.curve) {
        best = tried
        low = to
        continue
      }
      high = to
      break
    }
    while (high - low > 1) {
      const tried = attempt((low + high) >> 1)
      if (tried.curve) {
        best = tried
        low = tried.to
      } else high = tried.to
    }
    const { to, tangent, curve } = best
    last = to - from
    if (curve) out.cubicTo(curve[2], curve[3], curve[4], curve[5], p[2 * to], p[2 * to + 1])
    else out.lineTo(p[2 * to], p[2 * to + 1])
    from = to
    start = tangent
  }
}

function directionAmong(p: Float64Array, i: number): Vector {
  const d = unit(p[2 * (i + 1)] - p[2 * (i - 1)], p[2 * (i + 1) + 1] - p[2 * (i - 1) + 1])
  return d[0] === 0 && d[1] === 0 ? unit(p[2 * i] - p[2 * (i - 1)], p[2 * i + 1] - p[2 * (i - 1) + 1]) : d
}

/** Points that a trial of a long span is fitted to; all of them are asked once it fits these. */
const TRIAL_POINTS = 40

/**
 * The cubic between two points of a line that keeps within the tolerance of all its points and the middles between them, or
 * undefined when none was found. `lengths` are the line's own, from its start to each point.
 */
function fitBetween(p: Float64Array, lengths: Float64Array, from: number, to: number, t0: Vector, t1: Vector, tolerance: number): Float64Array | undefined {
  if (to - from < 2) return undefined
  const few = Math.min(to - from, TRIAL_POINTS)
  const picked = few < to - from
  const q = picked ? new Float64Array(2 * few + 2) : p
  const u = new Float64Array(few + 1)
  const at = (k: number) => from + Math.round((k * (to - from)) / few)
  const total = lengths[to] - lengths[from] || 1
  for (let k = 0; k <= few; k++) {
    const i = at(k)
    u[k] = (lengths[i] - lengths[from]) / total
    if (!picked) continue
    q[2 * k] = p[2 * i]
    q[2 * k + 1] = p[2 * i + 1]
  }
  const [first, last] = picked ? [0, few] : [from, to]
  for (let round = 0; round < ROUNDS; round++) {
    const curve = leastSquares(q, first, last, u, t0, t1)
    const far = (round === 0 ? 60 : 30) * tolerance
    const { error } = largestError(q, first, last, u, curve, far, !picked)
    if (error <= tolerance) {
      if (!picked) return curve
      const all = new Float64Array(to - from + 1)
      for (let k = 0; k < few; k++) {
        const [i, j] = [at(k), at(k + 1)]
        const along = (u[k + 1] - u[k]) / (lengths[j] - lengths[i] || 1)
        for (let m = i; m <= j; m++) all[m - from] = u[k] + along * (lengths[m] - lengths[i])
      }
      if (largestError(p, from, to, all, curve, tolerance).error <= tolerance) return curve
    }
    if (error > far) return undefined
    for (let k = 0; k <= few; k++) u[k] = newton(curve, q[2 * (first + k)], q[2 * (first + k) + 1], u[k])
  }
  return undefined
}

/** The one cubic nearest to a line of points (x, y pairs) that begins, ends and leaves as they do; eight numbers. */
export function fitOne(points: Float64Array): Float64Array {
  const last = points.length / 2 - 1
  const [t0, t1] = [endDirection(points, 1), endDirection(points, -1)]
  const u = chordParameters(points, 0, last)
  let curve = leastSquares(points, 0, last, u, t0, t1)
  for (let round = 0; round < ROUNDS; round++) {
    for (let i = 0; i <= last; i++) u[i] = newton(curve, points[2 * i], points[2 * i + 1], u[i])
    curve = leastSquares(points, 0, last, u, t0, t1)
  }
  return curve
}

/** The same line with long sides cut, so that a curve cannot swing out between far points unseen. */
function divided(p: Float64Array, tolerance: number): Float64Array {
  const n = p.length / 2
  let total = 0
  for (let i = 1; i < n; i++) total += Math.hypot(p[2 * i] - p[2 * i - 2], p[2 * i + 1] - p[2 * i - 1])
  const longest = Math.max(total / 12, 2 * tolerance)
  const out: number[] = [p[0], p[1]]
  for (let i = 1; i < n; i++) {
    const [x0, y0, x1, y1] = [p[2 * i - 2], p[2 * i - 1], p[2 * i], p[2 * i + 1]]
    const parts = Math.ceil(Math.hypot(x1 - x0, y1 - y0) / longest)
    for (let k = 1; k < parts; k++) out.push(x0 + ((x1 - x0) * k) / parts, y0 + ((y1 - y0) * k) / parts)
    out.push(x1, y1)
  }
  return Float64Array.from(out)
}

function isStraight(p: Float64Array, tolerance: number): boolean {
  const n = p.length / 2
  const [x0, y0, x1, y1] = [p[0], p[1], p[2 * n - 2], p[2 * n - 1]]
  const [dx, dy] = [x1 - x0, y1 - y0]
  const l = Math.hypot(dx, dy)
  if (l === 0) return n <= 2
  let along = 0
  for (let i = 1; i < n; i++) {
    const s = ((p[2 * i] - x0) * dx + (p[2 * i + 1] - y0) * dy) / l
    if (Math.abs(((p[2 * i] - x0) * dy - (p[2 * i + 1] - y0) * dx) / l) > tolerance || s < along - tolerance) return false
    along = s
  }
  return true
}

const MAX_DEPTH = 40
const ROUNDS = 6

function fitCubic(p: Float64Array, from: number, to: number, t0: Vector, t1: Vector, tolerance: number, out: PathBuilder, depth: number): void {
  const [x0, y0, x3, y3] = [p[2 * from], p[2 * from + 1], p[2 * to], p[2 * to + 1]]
  if (to - from < 2 || depth > MAX_DEPTH) {
    for (let i = from + 1; i <= to; i++) out.lineTo(p[2 * i], p[2 * i + 1])
    return
  }
  // a long line is mostly far from any one curve, which a few of its points show as well
  const few = to - from > LONG ? farthestOfFew(p, from, to, t0, t1) : undefined
  let worst = few && few.error > 30 * tolerance ? few : undefined
  const u = worst ? undefined : chordParameters(p, from, to)
  for (let round = 0; u && round < ROUNDS; round++) {
    const curve = leastSquares(p, from, to, u, t0, t1)
    worst = largestError(p, from, to, u, curve)
    if (worst.error <= tolerance) {
      out.cubicTo(curve[2], curve[3], curve[4], curve[5], x3, y3)
      return
    }
    // far off: dividing helps, reparametrising does not
    if (worst.error > 30 * tolerance && round > 0) break
    for (let i = from; i <= to; i++) u[i - from] = newton(curve, p[2 * i], p[2 * i + 1], u[i - from])
  }
  const split = Math.min(to - 1, Math.max(from + 1, worst?.at ?? (from + to) >> 1))
  let tangent = unit(p[2 * (split + 1)] - p[2 * (split - 1)], p[2 * (split + 1) + 1] - p[2 * (split - 1) + 1])
  if (tangent[0] === 0 && tangent[1] === 0) tangent = unit(p[2 * split] - x0, p[2 * split + 1] - y0)
  fitCubic(p, from, split, t0, [-tangent[0], -tangent[1]], tolerance, out, depth + 1)
  fitCubic(p, split, to, tangent, t1, tolerance, out, depth + 1)
}

/** Points of a line beyond which it is tried with a few of them first. */
const LONG = 400

/** How far a curve through a long line lies from some of its points at most, and which. */
function farthestOfFew(p: Float64Array, from: number, to: number, t0: Vector, t1: Vector): { error: number; at: number } {
  const few = 64
  const at = (k: number) => from + Math.round((k * (to - from)) / few)
  const q = new Float64Array(2 * few + 2)
  for (let k = 0; k <= few; k++) q.set(p.subarray(2 * at(k), 2 * at(k) + 2), 2 * k)
  const u = chordParameters(q, 0, few)
  for (let round = 0; ; round++) {
    const curve = leastSquares(q, 0, few, u, t0, t1)
    const worst = largestError(q, 0, few, u, curve, Infinity, false)
    if (round === 1) return { error: worst.error, at: at(worst.at) }
    for (let k = 0; k <= few; k++) u[k] = newton(curve, q[2 * k], q[2 * k + 1], u[k])
  }
}

function chordParameters(p: Float64Array, from: number, to: number): Float64Array {
  const u = new Float64Array(to - from + 1)
  for (let i = from + 1; i <= to; i++) u[i - from] = u[i - from - 1] + Math.hypot(p[2 * i] - p[2 * i - 2], p[2 * i + 1] - p[2 * i - 1])
  const total = u[to - from] || 1
  for (let i = 0; i < u.length; i++) u[i] /= total
  return u
}

/** The cubic with given end points and directions nearest to the points at their parameters. */
function leastSquares(p: Float64Array, from: number, to: number, u: Float64Array, t0: Vector, t1: Vector): Float64Array<ArrayBuffer> {
  const [x0, y0, x3, y3] = [p[2 * from], p[2 * from + 1], p[2 * to], p[2 * to + 1]]
  let [c00, c01, c11, r0, r1] = [0, 0, 0, 0, 0]
  for (let i = 0; i < u.length; i++) {
    const t = u[i]
    const s = 1 - t
    const [b0, b1, b2, b3] = [s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t]
    const [ax, ay] = [t0[0] * b1, t0[1] * b1]
    const [bx, by] = [t1[0] * b2, t1[1] * b2]
    c00 += ax * ax + ay * ay
    c01 += ax * bx + ay * by
    c11 += bx * bx + by * by
    const dx = p[2 * (from + i)] - (x0 * (b0 + b1) + x3 * (b2 + b3))
    const dy = p[2 * (from + i) + 1] - (y0 * (b0 + b1) + y3 * (b2 + b3))
    r0 += ax * dx + ay * dy
    r1 += bx * dx + by * dy
  }
  const chord = Math.hypot(x3 - x0, y3 - y0)
  const det = c00 * c11 - c01 * c01
  let a = det === 0 ? 0 : (r0 * c11 - r1 * c01) / det
  let b = det === 0 ? 0 : (c00 * r1 - c01 * r0) / det
  // handles that turn back or run away are worse than a guess (Wu and Barsky)
  const limit = 6 * Math.max(chord, 1e-9)
  if (!(a > 1e-6 * chord && b > 1e-6 * chord && a < limit && b < limit)) a = b = chord / 3
  return Float64Array.of(x0, y0, x0 + t0[0] * a, y0 + t0[1] * a, x3 + t1[0] * b, y3 + t1[1] * b, x3, y3)
}

/** One step of Newton's method towards the parameter of the point nearest to (x, y). Plain arithmetic: it runs millions of times. */
function newton(c: Float64Array, x: number, y: number, t: number): number {
  const s = 1 - t
  const [b0, b1, b2, b3] = [s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t]
  const px = b0 * c[0] + b1 * c[2] + b2 * c[4] + b3 * c[6]
  const py = b0 * c[1] + b1 * c[3] + b2 * c[5] + b3 * c[7]
  const dx = 3 * (s * s * (c[2] - c[0]) + 2 * s * t * (c[4] - c[2]) + t * t * (c[6] - c[4]))
  const dy = 3 * (s * s * (c[3] - c[1]) + 2 * s * t * (c[5] - c[3]) + t * t * (c[7] - c[5]))
  const ex = 6 * (s * (c[4] - 2 * c[2] + c[0]) + t * (c[6] - 2 * c[4] + c[2]))
  const ey = 6 * (s * (c[5] - 2 * c[3] + c[1]) + t * (c[7] - 2 * c[5] + c[3]))
  const denominator = dx * dx + dy * dy + (px - x) * ex + (py - y) * ey
  if (Math.abs(denominator) < 1e-18) return t
  const next = t - ((px - x) * dx + (py - y) * dy) / denominator
  return next < 0 ? 0 : next > 1 ? 1 : next
}

/** The largest distance of the points, and of the `middles` between them, from a curve; `enough` ends the search once it is passed. */
function largestError(
  p: Float64Array,
  from: number,
  to: number,
  u: Float64Array,
  c: Float64Array,
  enough = Infinity,
  middles = true,
): { error: number; at: number } {
  let worst = 0
  let at = (from + to) >> 1
  const limit = enough * enough
  for (let i = from; i < to && worst <= limit; i++) {
    if (i > from) {
      const square = squareFrom(c, p[2 * i], p[2 * i + 1], u[i - from])
      if (square > worst) {
        worst = square
        at = i
      }
    }
    if (!middles) continue
    const square = squareFrom(c, (p[2 * i] + p[2 * i + 2]) / 2, (p[2 * i + 1] + p[2 * i + 3]) / 2, (u[i - from] + u[i - from + 1]) / 2)
    if (square > worst) {
      worst = square
      at = Math.max(i, from + 1)
    }
  }
  return { error: Math.sqrt(worst), at }
}

/** Squared distance of a point from the curve near a parameter. */
function squareFrom(c: Float64Array, x: number, y: number, guess: number): number {
  const t = newton(c, x, y, guess)
  const s = 1 - t
  const [b0, b1, b2, b3] = [s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t]
  const dx = b0 * c[0] + b1 * c[2] + b2 * c[4] + b3 * c[6] - x
  const dy = b0 * c[1] + b1 * c[3] + b2 * c[5] + b3 * c[7] - y
  return dx * dx + dy * dy
}
