import type { Affine } from './affine'
import { cubicDoubleArea } from './cubic'

/** Segment kinds of a path. The number is also how many points the segment adds. */
export const LINE = 1
export const QUADRATIC = 2
const CUBIC = 3

/**
 * One contour or open stroke, curves kept exactly.
 * `coords` holds the start point, then `verbs[i]` points for segment i (controls first, end point last), as x, y pairs;
 * its length is 2 + 2·Σ verbs. A closed path joins its last point to its first by a straight line if they differ.
 */
export interface Path {
  readonly verbs: Uint8Array
  readonly coords: Float64Array
  readonly closed: boolean
}

/** Collects segments into a Path. Coordinates are copied; non-finite ones are refused with a RangeError. */
export class PathBuilder {
  private verbs: number[] = []
  private coords: number[] = []

  constructor(x: number, y: number) {
    this.push(x, y)
  }

  /** where it begins */
  get start(): readonly [number, number] {
    return [this.coords[0], this.coords[1]]
  }

  get x(): number {
    return this.coords[this.coords.length - 2]
  }

  get y(): number {
    return this.coords[this.coords.length - 1]
  }

  get segments(): number {
    return this.verbs.length
  }

  lineTo(x: number, y: number): void {
    if (x === this.x && y === this.y) return
    this.verbs.push(LINE)
    this.push(x, y)
  }

  quadraticTo(cx: number, cy: number, x: number, y: number): void {
    this.verbs.push(QUADRATIC)
    this.push(cx, cy, x, y)
  }

  cubicTo(c1x: number, c1y: number, c2x: number, c2y: number, x: number, y: number): void {
    this.verbs.push(CUBIC)
    this.push(c1x, c1y, c2x, c2y, x, y)
  }

  /** Goes along the segments of a path that begins here. */
  follow({ verbs, coords }: Path): void {
    let o = 2
    for (const verb of verbs) {
      const c = coords.subarray(o, o + 2 * verb)
      if (verb === LINE) this.lineTo(c[0], c[1])
      else if (verb === QUADRATIC) this.quadraticTo(c[0], c[1], c[2], c[3])
      else this.cubicTo(c[0], c[1], c[2], c[3], c[4], c[5])
      o += 2 * verb
    }
  }

  build(closed: boolean): Path {
    return { verbs: Uint8Array.from(this.verbs), coords: Float64Array.from(this.coords), closed }
  }

  private push(...values: number[]): void {
    for (const v of values) if (!Number.isFinite(v)) throw new RangeError(`path coordinate is not a finite number: ${v}`)
    this.coords.push(...values)
  }
}

/** A new path with every point mapped by `m`; the source is unchanged. */
export function transformPath(path: Path, m: Affine): Path {
  const coords = new Float64Array(path.coords.length)
  for (let i = 0; i < coords.length; i += 2) {
    const x = path.coords[i]
    const y = path.coords[i + 1]
    coords[i] = m[0] * x + m[2] * y + m[4]
    coords[i + 1] = m[1] * x + m[3] * y + m[5]
  }
  return { verbs: path.verbs, coords, closed: path.closed }
}

/** The same curve run the other way; a new path. */
export function reversePath(path: Path): Path {
  const n = path.coords.length / 2
  const coords = new Float64Array(path.coords.length)
  for (let i = 0; i < n; i++) {
    coords[2 * i] = path.coords[2 * (n - 1 - i)]
    coords[2 * i + 1] = path.coords[2 * (n - 1 - i) + 1]
  }
  return { verbs: path.verbs.slice().reverse(), coords, closed: path.closed }
}

/** [minX, minY, maxX, maxY] of the control points of all paths (it contains the curves); infinities when empty. */
export function controlBounds(paths: readonly Path[]): [number, number, number, number] {
  const box: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity]
  for (const { coords } of paths) {
    for (let i = 0; i < coords.length; i += 2) {
      box[0] = Math.min(box[0], coords[i])
      box[1] = Math.min(box[1], coords[i + 1])
      box[2] = Math.max(box[2], coords[i])
      box[3] = Math.max(box[3], coords[i + 1])
    }
  }
  return box
}

/** An SVG path string of the paths; `digits` decimals, Y upwards as in Kelvar unless `flipY`. */
export function toSvgPath(paths: readonly Path[], digits = 4, flipY = false): string {
  const out: string[] = []
  const n = (v: number) => {
    const r = Number(v.toFixed(digits))
    return Object.is(r, -0) ? '0' : String(r)
  }
  const sign = flipY ? -1 : 1
  for (const { verbs, coords, closed } of paths) {
    out.push(`M${n(coords[0])} ${n(sign * coords[1])}`)
    let o = 2
    for (const verb of verbs) {
      const points: string[] = []
      for (let k = 0; k < verb; k++) points.push(`${n(coords[o + 2 * k])} ${n(sign * coords[o + 2 * k + 1])}`)
      out.push('LQC'[verb - 1] + points.join(' '))
      o += 2 * verb
    }
    if (closed) out.push('Z')
  }
  return out.join('')
}

/** Every segment of a path as a cubic, the straight side that closes it included; lines are marked. */
export function segmentsOf(path: Path): { readonly cubic: Float64Array; readonly straight: boolean }[] {
  const { verbs, coords } = path
  const out: { cubic: Float64Array; straight: boolean }[] = []
  let o = 0
  for (const verb of verbs) {
    const c = coords.subarray(o, o + 2 + 2 * verb)
    out.push({ cubic: verb === CUBIC ? Float64Array.from(c) : asCubic(c, verb as 1 | 2), straight: verb === LINE })
    o += 2 * verb
  }
  if (path.closed && (coords[o] !== coords[0] || coords[o + 1] !== coords[1]))
    out.push({ cubic: asCubic([coords[o], coords[o + 1], coords[0], coords[1]], 1), straight: true })
  return out
}

/** A line or a quadratic as the same curve in cubic form; a new array. */
export function asCubic(c: ArrayLike<number>, degree: 1 | 2): Float64Array {
  const between = (i: number, j: number, f: number) => c[i] + (c[j] - c[i]) * f
  if (degree === 1) return Float64Array.of(c[0], c[1], between(0, 2, 1 / 3), between(1, 3, 1 / 3), between(0, 2, 2 / 3), between(1, 3, 2 / 3), c[2], c[3])
  return Float64Array.of(c[0], c[1], between(0, 2, 2 / 3), between(1, 3, 2 / 3), between(4, 2, 2 / 3), between(5, 3, 2 / 3), c[4], c[5])
}

/** Signed area of a closed path, mm², counter-clockwise positive; exact for its curves. */
export const pathArea = (path: Path): number => segmentsOf(path).reduce((sum, { cubic }) => sum + cubicDoubleArea(cubic) / 2, 0)
