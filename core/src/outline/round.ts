import { asCubic, lengthBetween } from './arc-length'
import { LINE, type Path, PathBuilder, QUADRATIC } from './path'

export interface RoundOptions {
  /** radius of corners that stick out of the area and of those that go into it, mm; 0 leaves them */
  readonly outer: number
  readonly inner: number
  /** turns smaller than this are no corners, degrees */
  readonly from: number
  /** 1 when the area lies to the left of the path, −1 when to the right */
  readonly side: 1 | -1
}

/** A corner may use up to this share of the sides beside it, so that neighbours never meet. */
const SHARE = 0.48
const PIECES = 8

interface Side {
  /** eight numbers */
  readonly cubic: Float64Array
  readonly straight: boolean
  readonly length: number
}

/**
 * A closed path with its corners rounded by arcs that are tangent to both sides; where a side is too short for the radius
 * the corner gets the largest that fits. A new path; curves between corners stay exact.
 */
export function roundCorners(path: Path, options: RoundOptions): Path {
  const sides = sidesOf(path)
  const n = sides.length
  if (!path.closed || n < 2) return path
  const cuts = sides.map((side, i) => cutAt(side, sides[(i + 1) % n], options))
  if (cuts.every((cut) => cut === 0)) return path
  // side i is cut by the corner before it and by the one after it
  const kept = sides.map(({ cubic, straight, length }, i): Side => {
    const [before, after] = [cuts[(i + n - 1) % n], cuts[i]]
    const [t0, t1] = [parameterAt(cubic, before), parameterAt(cubic, length - after)]
    return { cubic: part(cubic, t0, t1), straight, length: length - before - after }
  })
  const builder = new PathBuilder(kept[0].cubic[0], kept[0].cubic[1])
  kept.forEach((side, i) => {
    const c = side.cubic
    if (side.straight) builder.lineTo(c[6], c[7])
    else builder.cubicTo(c[2], c[3], c[4], c[5], c[6], c[7])
    if (cuts[i] === 0) return
    const next = kept[(i + 1) % n].cubic
    const [a, b] = [directionAt(c, 1), directionAt(next, 0)]
    const turn = Math.acos(Math.max(-1, Math.min(1, a[0] * b[0] + a[1] * b[1])))
    const chord = Math.hypot(next[0] - c[6], next[1] - c[7])
    // the handle of an arc of this turn over this chord
    const handle = turn < 1e-6 ? chord / 3 : (chord * (2 / 3) * Math.tan(turn / 4)) / Math.sin(turn / 2)
    builder.cubicTo(c[6] + a[0] * handle, c[7] + a[1] * handle, next[0] - b[0] * handle, next[1] - b[1] * handle, next[0], next[1])
  })
  return builder.build(true)
}

function sidesOf(path: Path): Side[] {
  const { verbs, coords } = path
  const sides: Side[] = []
  const add = (cubic: Float64Array, straight: boolean) => {
    let length = 0
    for (let k = 0; k < PIECES; k++) length += lengthBetween(cubic, k / PIECES, 1 / PIECES)
    if (length > 1e-9) sides.push({ cubic, straight, length })
  }
  let o = 0
  for (const verb of verbs) {
    const c = coords.subarray(o, o + 2 + 2 * verb)
    add(verb === LINE ? asCubic(c, 1) : verb === QUADRATIC ? asCubic(c, 2) : Float64Array.from(c), verb === LINE)
    o += 2 * verb
  }
  const [x0, y0, x1, y1] = [coords[o], coords[o + 1], coords[0], coords[1]]
  if (path.closed && Math.hypot(x1 - x0, y1 - y0) > 1e-9) add(asCubic([x0, y0, x1, y1], 1), true)
  return sides
}

/** How much of both sides a corner takes, mm; 0 where it stays. */
function cutAt(a: Side, b: Side, { outer, inner, from, side }: RoundOptions): number {
  const [p, q] = [directionAt(a.cubic, 1), directionAt(b.cubic, 0)]
  const turn = Math.acos(Math.max(-1, Math.min(1, p[0] * q[0] + p[1] * q[1])))
  if (turn < (from * Math.PI) / 180) return 0
  const outwards = side * (p[0] * q[1] - p[1] * q[0]) > 0
  const radius = outwards ? outer : inner
  if (radius <= 0) return 0
  // a side that turns right back has no arc of any radius: it is blunted as far as it can be
  return Math.min(radius * Math.tan(Math.min(turn, 3.1) / 2), SHARE * a.length, SHARE * b.length)
}

function directionAt(c: Float64Array, end: 0 | 1): [number, number] {
  const order = end === 0 ? [2, 4, 6] : [4, 2, 0]
  const [x, y] = end === 0 ? [c[0], c[1]] : [c[6], c[7]]
  for (const k of order) {
    const [dx, dy] = [c[k] - x, c[k + 1] - y]
    const l = Math.hypot(dx, dy)
    if (l > 1e-9) return end === 0 ? [dx / l, dy / l] : [-dx / l, -dy / l]
  }
  return [1, 0]
}

function parameterAt(c: Float64Array, s: number): number {
  let low = 0
  let high = 1
  for (let i = 0; i < 40; i++) {
    const t = (low + high) / 2
    let length = 0
    for (let k = 0; k < PIECES; k++) length += lengthBetween(c, (t * k) / PIECES, t / PIECES)
    if (length < s) low = t
    else high = t
  }
  return (low + high) / 2
}

/** The part of a cubic between two parameters (de Casteljau). */
function part(c: Float64Array, t0: number, t1: number): Float64Array {
  const head = split(c, t1)[0]
  return t1 === 0 ? head : split(head, t0 / t1)[1]
}

function split(c: Float64Array, t: number): [Float64Array, Float64Array] {
  const mix = (i: number, j: number, from: ArrayLike<number>) => from[i] + (from[j] - from[i]) * t
  const p = [0, 1].map((k) => {
    const a = mix(k, k + 2, c)
    const b = mix(k + 2, k + 4, c)
    const d = mix(k + 4, k + 6, c)
    const e = a + (b - a) * t
    const f = b + (d - b) * t
    return [c[k], a, e, e + (f - e) * t, f, d, c[k + 6]]
  })
  const pick = (order: readonly number[]) => Float64Array.from(order.flatMap((i) => [p[0][i], p[1][i]]))
  return [pick([0, 1, 2, 3]), pick([3, 4, 5, 6])]
}
