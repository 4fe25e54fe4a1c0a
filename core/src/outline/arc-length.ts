import { cubicAt, cubicPart, cubicSlope } from './cubic'
import { type Path, PathBuilder, segmentsOf } from './path'
import { NODES, WEIGHTS } from './quadrature'

/** A place on a path: point in mm and unit direction of travel. */
export interface Place {
  readonly x: number
  readonly y: number
  readonly tx: number
  readonly ty: number
}

/** Pieces a curve is cut into for measuring; the rule is of tenth order on each. */
const PIECES = 16

/**
 * A path measured along its length: places by millimetres from its start. Curves are measured by Gauss–Legendre
 * quadrature and inverted by bisection and Newton's method, to well under a micrometre at lettering sizes.
 * The path must not be changed while it is in use.
 */
export class ArcLength {
  readonly length: number
  readonly closed: boolean
  /** piece k runs over parameters [t0[k], t0[k] + dt[k]] of segment segment[k] and ends at length ends[k] */
  private readonly segment: number[] = []
  private readonly t0: number[] = []
  private readonly dt: number[] = []
  private readonly ends: number[] = []
  private readonly segments: Float64Array[] = []
  private readonly straight: boolean[] = []

  constructor(path: Path) {
    for (const { cubic, straight } of segmentsOf(path)) {
      this.addSegment(cubic, straight ? 1 : PIECES)
      this.straight.push(straight)
    }
    this.length = this.ends.at(-1) ?? 0
    this.closed = path.closed
  }

  private addSegment(cubic: Float64Array, pieces: number): void {
    this.segments.push(cubic)
    for (let k = 0; k < pieces; k++) {
      this.segment.push(this.segments.length - 1)
      this.t0.push(k / pieces)
      this.dt.push(1 / pieces)
      this.ends.push((this.ends.at(-1) ?? 0) + lengthBetween(cubic, k / pieces, 1 / pieces))
    }
  }

  /** The length at which segment `i` of the path ends, mm from the start. */
  endOf(i: number): number {
    return this.ends[this.segment.lastIndexOf(i)] ?? 0
  }

  /** The place `s` mm from the start. A closed path goes round; an open one goes on straight beyond its ends. */
  at(s: number): Place {
    const { length } = this
    if (length === 0) return { x: this.segments[0]?.[0] ?? 0, y: this.segments[0]?.[1] ?? 0, tx: 1, ty: 0 }
    const along = this.closed ? ((s % length) + length) % length : s
    const over = this.closed ? 0 : along < 0 ? along : Math.max(0, along - length)
    const { segment, t } = this.parameterAt(Math.min(length, Math.max(0, along)))
    return beyond(this.segments[segment], t, over)
  }

  /** The segment that runs at `along` mm from the start, which must lie on the path, and the parameter on it. */
  private parameterAt(along: number): { segment: number; t: number } {
    const { ends } = this
    const lo = firstReaching(ends, along)
    const cubic = this.segments[this.segment[lo]]
    const rest = along - (lo === 0 ? 0 : ends[lo - 1])
    const whole = ends[lo] - (lo === 0 ? 0 : ends[lo - 1])
    let from = 0
    let to = this.dt[lo]
    let f = whole === 0 ? 0 : (rest / whole) * to
    for (let i = 0; i < 40; i++) {
      const error = lengthBetween(cubic, this.t0[lo], f) - rest
      if (Math.abs(error) < 1e-9) break
      if (error > 0) to = f
      else from = f
      const newton = f - error / speed(cubic, this.t0[lo] + f)
      f = newton > from && newton < to ? newton : (from + to) / 2
    }
    return { segment: this.segment[lo], t: this.t0[lo] + f }
  }

  /** The first `length` mm of the path, open and with its own curves; undefined where that is nothing. */
  firstPart(length: number): Path | undefined {
    if (!(length > 0) || this.length === 0) return undefined
    const { segment, t } = this.parameterAt(Math.min(this.length, length))
    const built = new PathBuilder(this.segments[0][0], this.segments[0][1])
    for (let i = 0; i <= segment; i++) {
      const c = i < segment ? this.segments[i] : cubicPart(this.segments[i], 0, t)
      if (this.straight[i]) built.lineTo(c[6], c[7])
      else built.cubicTo(c[2], c[3], c[4], c[5], c[6], c[7])
    }
    return built.segments > 0 ? built.build(false) : undefined
  }
}

/** The first of rising lengths, from a number on, that reaches so far; the last where none does. */
export function firstReaching(ends: readonly number[], along: number, from = 0): number {
  let lo = from
  let hi = ends.length - 1
  while (lo < hi) {
    const mid = (lo + hi) >> 1
    if (ends[mid] < along) lo = mid + 1
    else hi = mid
  }
  return lo
}

function beyond(c: Float64Array, t: number, over: number): Place {
  const [x, y] = cubicAt(c, t)
  let [tx, ty] = cubicSlope(c, t)
  if (Math.hypot(tx, ty) < 1e-12) [tx, ty] = cubicSlope(c, t < 0.5 ? t + 1e-4 : t - 1e-4)
  const l = Math.hypot(tx, ty) || 1
  tx /= l
  ty /= l
  return { x: x + over * tx, y: y + over * ty, tx, ty }
}

const speed = (c: Float64Array, t: number): number => Math.max(1e-12, Math.hypot(...cubicSlope(c, t)))

/** Length of a cubic (eight numbers) over the parameters [t, t + dt], by one application of the quadrature rule. */
export function lengthBetween(c: Float64Array, t: number, dt: number): number {
  let sum = 0
  for (let i = 0; i < NODES.length; i++) sum += WEIGHTS[i] * Math.hypot(...cubicSlope(c, t + NODES[i] * dt))
  return sum * dt
}
