import { manifold, type SimplePolygon, withScope } from '../kernel/manifold'
import { fitPath } from './fit'
import { flattenPath } from './flatten'
import type { Path } from './path'
import { areSimple, doubleArea, toPairs } from './polygon'
import { CAPS, JOINS } from './stroke-styles'

export interface StrokeStyle {
  /** mm */
  readonly width: number
  readonly cap: (typeof CAPS)[number]
  readonly join: (typeof JOINS)[number]
  /** longest mitre in stroke widths, as in SVG; default 4 */
  readonly mitreLimit?: number
  /** lengths of dashes and gaps in turn, mm; none or all zero for a solid line */
  readonly dashes?: readonly number[]
  /** where in the dashes the stroke begins, mm */
  readonly dashOffset?: number
}

/** A stroke is cut into this many dashes at most; more are drawn as one solid line. */
const MAX_DASHES = 20_000

/**
 * The closed outlines of stroked paths, as SVG draws them: caps, joins, mitre limit, dashes. Overlaps are united; curves
 * are fitted within `tolerance` mm. Needs the manifold kernel loaded.
 */
export function strokeOutlines(paths: readonly Path[], style: StrokeStyle, tolerance: number): Path[] {
  if (!(style.width > 0)) return []
  const pieces: number[][] = []
  for (const path of paths) {
    const { xy, closed } = flattenPath(path, { tolerance: tolerance / 2, maxTurn: 6 })
    for (const line of dashed(xy, closed, style)) strokeLine(line.xy, line.closed, style, tolerance, pieces)
  }
  return outlinesOf(pieces, tolerance)
}

/** Unites rings (each counter-clockwise) and gives the borders back as fitted curves. */
export function outlinesOf(rings: readonly ArrayLike<number>[], tolerance: number): Path[] {
  if (rings.length === 0) return []
  const fitted = (ring: SimplePolygon) => fitPath(tidy(ring), true, { tolerance, corner: 14 })
  // most strokes of a map are short and do not come near themselves
  if (rings.length === 1 && rings[0].length < 200 && areSimple(rings) && doubleArea(rings[0]) > 0) return [fitted(toPairs(rings[0]))]
  const { CrossSection } = manifold()
  return withScope((own) =>
    own(new CrossSection(rings.map(toPairs), 'NonZero'))
      .toPolygons()
      .map(fitted),
  )
}

/** A ring as x, y pairs without points nearer than a micrometre to the one before. */
function tidy(ring: SimplePolygon): Float64Array {
  const out: number[] = []
  for (const [x, y] of ring) {
    const k = out.length
    if (k >= 2 && Math.hypot(x - out[k - 2], y - out[k - 1]) < 1e-3) continue
    out.push(x, y)
  }
  while (out.length > 6 && Math.hypot(out[0] - out[out.length - 2], out[1] - out[out.length - 1]) < 1e-3) out.length -= 2
  return Float64Array.from(out)
}

/** The line itself, or its dashes. */
function dashed(xy: Float64Array, closed: boolean, style: StrokeStyle): { xy: Float64Array; closed: boolean }[] {
  let dashes = style.dashes?.filter((d) => d >= 0) ?? []
  if (dashes.length % 2 === 1) dashes = [...dashes, ...dashes]
  const period = dashes.reduce((a, b) => a + b, 0)
  if (!(period > 1e-6)) return [{ xy, closed }]
  const points = closed ? Float64Array.from([...xy, xy[0], xy[1]]) : xy
  let total = 0
  for (let i = 2; i < points.length; i += 2) total += Math.hypot(points[i] - points[i - 2], points[i + 1] - points[i - 1])
  if ((total / period) * dashes.length > MAX_DASHES) return [{ xy, closed }]
  let at = (((style.dashOffset ?? 0) % period) + period) % period
  let k = 0
  while (at >= dashes[k]) {
    at -= dashes[k]
    k = (k + 1) % dashes.length
  }
  let left = dashes[k] - at
  const out: { xy: Float64Array; closed: boolean }[] = []
  let open: number[] | undefined = k % 2 === 0 ? [points[0], points[1]] : undefined
  for (let i = 2; i < points.length; i += 2) {
    let [x, y] = [points[i - 2], points[i - 1]]
    let length = Math.hypot(points[i] - x, points[i + 1] - y)
    while (length > left) {
      const f = length === 0 ? 0 : left / length
      x += (points[i] - x) * f
      y += (points[i + 1] - y) * f
      length -= left
      if (open) {
        open.push(x, y)
        out.push({ xy: Float64Array.from(open), closed: false })
        open = undefined
      } else open = [x, y]
      k = (k + 1) % dashes.length
      left = dashes[k]
    }
    left -= length
    open?.push(points[i], points[i + 1])
  }
  if (open && open.length >= 4) out.push({ xy: Float64Array.from(open), closed: false })
  return out
}

/**
 * Adds the rings of one stroked polyline: along its right side, round its end, and back along its left one. Each ring is the border of the
 * boxes of all sides and the wedges of all joins put together, each counter-clockwise, so that their area by the non-zero rule is the stroke's:
 * a join's inner side goes through the corner itself.
 */
function strokeLine(source: Float64Array, closed: boolean, style: StrokeStyle, tolerance: number, out: number[][]): void {
  const r = style.width / 2
  const p: number[] = []
  for (let i = 0; i < source.length; i += 2) {
    const k = p.length
    if (k >= 2 && Math.hypot(source[i] - p[k - 2], source[i + 1] - p[k - 1]) < 1e-7) continue
    p.push(source[i], source[i + 1])
  }
  const n = p.length / 2
  if (n === 1) {
    const [x, y] = p
    // a stroke of no length shows its caps (SVG 2, §13.5.2)
    if (style.cap === 'round') out.push(arc(x, y, r, 0, 2 * Math.PI, tolerance))
    else if (style.cap === 'square') out.push([x - r, y - r, x + r, y - r, x + r, y + r, x - r, y + r])
    return
  }
  const right = sideOf(p, closed, style, tolerance)
  const left = sideOf(backwards(p), closed, style, tolerance)
  if (closed) {
    out.push(right, left)
    return
  }
  for (const v of left) right.push(v)
  out.push(right)
}

function backwards(p: readonly number[]): number[] {
  const out: number[] = []
  for (let i = p.length - 2; i >= 0; i -= 2) out.push(p[i], p[i + 1])
  return out
}

/** The right side of a stroked polyline, and the cap at its end where it is open. */
function sideOf(p: readonly number[], closed: boolean, style: StrokeStyle, tolerance: number): number[] {
  const r = style.width / 2
  const n = p.length / 2
  const sides = closed ? n : n - 1
  const out: number[] = []
  const direction = (i: number): [x: number, y: number, length: number] => {
    const [a, b] = [i % n, (i + 1) % n]
    const [dx, dy] = [p[2 * b] - p[2 * a], p[2 * b + 1] - p[2 * a + 1]]
    const l = Math.hypot(dx, dy)
    return [dx / l, dy / l, l]
  }
  let [dx, dy, length] = direction(0)
  for (let i = 0; i < sides; i++) {
    const [a, b] = [i, (i + 1) % n]
    out.push(p[2 * a] + dy * r, p[2 * a + 1] - dx * r, p[2 * b] + dy * r, p[2 * b + 1] - dx * r)
    if (i + 1 === sides && !closed) break
    const next = direction(i + 1)
    join(p[2 * b], p[2 * b + 1], [dx, dy, length], next, r, style, tolerance, out)
    ;[dx, dy, length] = next
  }
  if (closed) return out
  const [x, y] = [p[2 * n - 2], p[2 * n - 1]]
  if (style.cap === 'square') out.push(x + (dx + dy) * r, y + (dy - dx) * r, x + (dx - dy) * r, y + (dy + dx) * r)
  else if (style.cap === 'round') for (const v of arc(x, y, r, Math.atan2(-dx, dy), Math.PI, tolerance).slice(2, -2)) out.push(v)
  return out
}

/** Goes along the right side from the end of one side to the beginning of the next, about the corner (x, y). */
function join(x: number, y: number, a: readonly number[], b: readonly number[], r: number, style: StrokeStyle, tolerance: number, out: number[]): void {
  const cross = a[0] * b[1] - a[1] * b[0]
  const dot = a[0] * b[0] + a[1] * b[1]
  if (Math.abs(cross) < 1e-9 && dot > 0) return
  if (cross < 0) {
    // a right turn: this is its inner side. Where sides are long for so small a turn they simply run across each other
    if (dot < 0.99 || Math.min(a[2], b[2]) < -2 * cross * r) out.push(x, y)
    return
  }
  // what turns a little is a curve's facet, whatever the join
  if (style.join === 'round' || dot > 0.99) {
    let sweep = Math.atan2(cross, dot)
    if (sweep < 0) sweep += 2 * Math.PI
    const round = arc(x, y, r, Math.atan2(-a[0], a[1]), sweep, tolerance)
    for (let i = 2; i < round.length - 2; i++) out.push(round[i])
    return
  }
  const limit = style.mitreLimit ?? 4
  // mitre length over width is 1 / sin(θ/2), θ the angle between the sides
  const half = Math.sqrt(Math.max(0, (1 + dot) / 2))
  if (style.join !== 'mitre' || half <= 1e-9 || 1 / half > limit) return
  const [mx, my] = [a[1] + b[1], -a[0] - b[0]]
  const l = Math.hypot(mx, my)
  out.push(x + (mx / l) * (r / half), y + (my / l) * (r / half))
}

function arc(x: number, y: number, r: number, from: number, sweep: number, tolerance: number): number[] {
  const most = Math.min(Math.PI / 18, 2 * Math.acos(Math.max(0, 1 - tolerance / 2 / r)) || 0.02)
  const steps = Math.max(1, Math.ceil(Math.abs(sweep) / most))
  const out: number[] = []
  const whole = Math.abs(Math.abs(sweep) - 2 * Math.PI) < 1e-9
  for (let i = 0; i < steps + (whole ? 0 : 1); i++) out.push(x + r * Math.cos(from + (sweep * i) / steps), y + r * Math.sin(from + (sweep * i) / steps))
  return out
}
