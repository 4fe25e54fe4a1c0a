import { ArcLength } from './arc-length'
import { fitPath } from './fit'
import { flattenPath } from './flatten'
import { fromPath, type NodePath, toPath } from './nodes'
import type { Path } from './path'
import { outlinesOf } from './stroker'

/** A point of a drawn line, mm, with the pen's pressure where the device has it, 0 to 1. */
export interface PenPoint {
  readonly x: number
  readonly y: number
  readonly pressure?: number
}

const CORNER = 40

/**
 * A line drawn by hand as few smooth nodes, fitted by least squares and never further than `tolerance` mm from the points;
 * sharp turns stay corners. `closed` when it ends where it began. Undefined for less than two different points.
 */
export function fitStroke(points: readonly PenPoint[], tolerance: number, closed: boolean): NodePath | undefined {
  const kept = points.filter((p, i) => i === 0 || Math.hypot(p.x - points[i - 1].x, p.y - points[i - 1].y) > 1e-6)
  if (kept.length < 2) return undefined
  const xy = Float64Array.from(kept.flatMap((p) => [p.x, p.y]))
  // node positions are rounded to a nanometre
  const drawn = fromPath(fitPath(xy, closed && kept.length > 2, { tolerance: tolerance * 0.999, corner: CORNER, fewest: true }))
  if (kept.every((p) => p.pressure === undefined)) return drawn
  let at = 0
  const nodes = drawn.nodes.map((node) => {
    let best = Infinity
    let pressure = 1
    // nodes come in the order of the points
    for (let i = at; i < kept.length; i++) {
      const distance = Math.hypot(kept[i].x - node.x, kept[i].y - node.y)
      if (distance >= best) continue
      best = distance
      pressure = kept[i].pressure ?? 1
      if (!closed) at = i
    }
    return { ...node, pressure: Math.round(Math.max(0, Math.min(1, pressure)) * 1000) / 1000 }
  })
  return { ...drawn, nodes }
}

/** Thinnest part of a brushed line, as a share of its width. */
const THINNEST = 0.12

/** The area of a line brushed `width` mm wide at full pressure, narrower where the nodes have less; round ends. Needs the manifold kernel loaded. */
export function brushOutlines(drawn: NodePath, width: number, tolerance = 0.01): Path[] {
  const pressures = drawn.nodes.map((node) => node.pressure ?? 1)
  return taperedOutlines(toPath(drawn), (share) => (width / 2) * Math.max(THINNEST, share), tolerance, alongNodes(drawn, pressures))
}

/** Values at nodes made a function of the share 0 to 1 of the length, straight between nodes. */
function alongNodes(drawn: NodePath, values: readonly number[]): (share: number) => number {
  if (drawn.nodes.length < 2) return () => values[0]
  const { closed, nodes } = drawn
  const ends = [0]
  for (let i = 1; i < nodes.length + (closed ? 1 : 0); i++) {
    const part = toPath({ closed: false, nodes: [nodes[i - 1], nodes[i % nodes.length]] })
    ends.push(ends[i - 1] + new ArcLength(part).length)
  }
  const total = ends[ends.length - 1] || 1
  const list = closed ? [...values, values[0]] : values
  return (share) => {
    const s = share * total
    let i = 1
    while (i < ends.length - 1 && ends[i] < s) i++
    const f = ends[i] === ends[i - 1] ? 0 : (s - ends[i - 1]) / (ends[i] - ends[i - 1])
    return list[i - 1] + (list[i] - list[i - 1]) * Math.max(0, Math.min(1, f))
  }
}

/**
 * The area swept by a disc along a path, its radius `radiusOf(value)` mm where `valueAt` gives the value for a share 0 to 1
 * of the length. Every stretch is the hull of two discs, so a changing radius leaves no steps.
 */
export function taperedOutlines(path: Path, radiusOf: (value: number) => number, tolerance: number, valueAt: (share: number) => number): Path[] {
  const { xy } = flattenPath(path, { tolerance: tolerance / 2, maxTurn: 6 })
  const points: number[] = []
  const n = xy.length / 2
  let total = 0
  for (let i = 1; i < n; i++) total += Math.hypot(xy[2 * i] - xy[2 * i - 2], xy[2 * i + 1] - xy[2 * i - 1])
  if (path.closed && n > 2) total += Math.hypot(xy[0] - xy[2 * n - 2], xy[1] - xy[2 * n - 1])
  let along = 0
  const longest = Math.max(total / 200, 0.05)
  points.push(xy[0], xy[1], radiusOf(valueAt(0)))
  for (let i = 1; i < n + (path.closed && n > 2 ? 1 : 0); i++) {
    const [x0, y0, x1, y1] = [xy[2 * i - 2], xy[2 * i - 1], xy[(2 * i) % (2 * n)], xy[(2 * i + 1) % (2 * n)]]
    const l = Math.hypot(x1 - x0, y1 - y0)
    const parts = Math.max(1, Math.ceil(l / longest))
    for (let k = 1; k <= parts; k++)
      points.push(x0 + ((x1 - x0) * k) / parts, y0 + ((y1 - y0) * k) / parts, radiusOf(valueAt((along + (l * k) / parts) / (total || 1))))
    along += l
  }
  const rings: number[][] = []
  for (let i = 3; i < points.length; i += 3) rings.push(hullOfDiscs(points, i - 3, i, tolerance))
  if (rings.length === 0) rings.push(hullOfDiscs(points, 0, 0, tolerance))
  return outlinesOf(rings, tolerance)
}

/** The convex hull of two discs (x, y, radius at two offsets), counter-clockwise. */
export function hullOfDiscs(p: readonly number[], i: number, j: number, tolerance: number): number[] {
  let [ax, ay, ar] = [p[i], p[i + 1], p[i + 2]]
  let [bx, by, br] = [p[j], p[j + 1], p[j + 2]]
  const d = Math.hypot(bx - ax, by - ay)
  if (d <= Math.abs(ar - br) + 1e-9) {
    if (br > ar) [ax, ay, ar] = [bx, by, br]
    return arc(ax, ay, ar, 0, 2 * Math.PI, tolerance).slice(0, -2)
  }
  if (ar < br) {
    ;[ax, ay, ar, bx, by, br] = [bx, by, br, ax, ay, ar]
  }
  const towards = Math.atan2(by - ay, bx - ax)
  // the tangents touch both discs at this angle from the line of centres
  const half = Math.acos((ar - br) / d)
  return [...arc(ax, ay, ar, towards + half, 2 * Math.PI - 2 * half, tolerance), ...arc(bx, by, br, towards - half, 2 * half, tolerance)]
}

function arc(x: number, y: number, r: number, from: number, sweep: number, tolerance: number): number[] {
  const most = Math.min(Math.PI / 14, 2 * Math.acos(Math.max(0, 1 - tolerance / 2 / r)) || 0.02)
  const steps = Math.max(1, Math.ceil(sweep / most))
  const out: number[] = []
  for (let k = 0; k <= steps; k++) out.push(x + r * Math.cos(from + (sweep * k) / steps), y + r * Math.sin(from + (sweep * k) / steps))
  return out
}
