import { lengthBetween } from './arc-length'
import { cubicPart, endDirectionOf } from './cubic'
import { type Path, PathBuilder, pathArea, segmentsOf } from './path'

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
    return { cubic: cubicPart(cubic, t0, t1), straight, length: length - before - after }
  })
  const builder = new PathBuilder(kept[0].cubic[0], kept[0].cubic[1])
  kept.forEach((side, i) => {
    const c = side.cubic
    if (side.straight) builder.lineTo(c[6], c[7])
    else builder.cubicTo(c[2], c[3], c[4], c[5], c[6], c[7])
    if (cuts[i] === 0) return
    const next = kept[(i + 1) % n].cubic
    const [a, b] = [endDirectionOf(c, 1), endDirectionOf(next, 0)]
    const turn = Math.acos(Math.max(-1, Math.min(1, a[0] * b[0] + a[1] * b[1])))
    const chord = Math.hypot(next[0] - c[6], next[1] - c[7])
    // the handle of an arc of this turn over this chord
    const handle = turn < 1e-6 ? chord / 3 : (chord * (2 / 3) * Math.tan(turn / 4)) / Math.sin(turn / 2)
    builder.cubicTo(c[6] + a[0] * handle, c[7] + a[1] * handle, next[0] - b[0] * handle, next[1] - b[1] * handle, next[0], next[1])
  })
  return builder.build(true)
}

function sidesOf(path: Path): Side[] {
  const sides: Side[] = []
  for (const { cubic, straight } of segmentsOf(path)) {
    let length = 0
    for (let k = 0; k < PIECES; k++) length += lengthBetween(cubic, k / PIECES, 1 / PIECES)
    if (length > 1e-9) sides.push({ cubic, straight, length })
  }
  return sides
}

/** How much of both sides a corner takes, mm; 0 where it stays. */
function cutAt(a: Side, b: Side, { outer, inner, from, side }: RoundOptions): number {
  const [p, q] = [endDirectionOf(a.cubic, 1), endDirectionOf(b.cubic, 0)]
  const turn = Math.acos(Math.max(-1, Math.min(1, p[0] * q[0] + p[1] * q[1])))
  if (turn < (from * Math.PI) / 180) return 0
  const outwards = side * (p[0] * q[1] - p[1] * q[0]) > 0
  const radius = outwards ? outer : inner
  if (radius <= 0) return 0
  // a side that turns right back has no arc of any radius: it is blunted as far as it can be
  return Math.min(radius * Math.tan(Math.min(turn, 3.1) / 2), SHARE * a.length, SHARE * b.length)
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

/** A closed path with its corners bent by a radius, mm, inner and outer ones alike, as a bar is; others, and all with radius 0, as they are. */
export const bent = (path: Path, radius: number): Path =>
  radius > 0 && path.closed ? roundCorners(path, { outer: radius, inner: radius, from: 12, side: pathArea(path) < 0 ? -1 : 1 }) : path
