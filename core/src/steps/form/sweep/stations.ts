import { curveBounds } from '../../../outline/areas'
import type { Flat } from '../../../outline/flatten'
import { type Outline, regionPaths } from '../../../outline/outline'
import { doubleArea, regionPolygons } from '../../../outline/polygon'
import { MITRE_LIMIT, type Section, type Station } from '../../../solid/sweep'
import type { SECTIONS, SweepParams } from './schema'
import { type Lengthwise, lengthwise, smooth } from './course'

const AROUND = 32

const polygon = (corners: number, from: number) =>
  Array.from({ length: corners }, (_, i) => from + (2 * Math.PI * i) / corners).flatMap((a) => [Math.cos(a) / 2, Math.sin(a) / 2])

/** A section of width and height 1 about its middle. */
export function sectionOf(name: Exclude<(typeof SECTIONS)[number], 'piece'>): Section {
  if (name === 'round') return { xy: polygon(AROUND, 0), smooth: true }
  if (name === 'square') return { xy: [0.5, -0.5, 0.5, 0.5, -0.5, 0.5, -0.5, -0.5], smooth: false }
  if (name === 'diamond') return { xy: polygon(4, 0), smooth: false }
  if (name === 'triangle') return { xy: [-0.5, -0.5, 0.5, -0.5, 0, 0.5], smooth: false }
  if (name === 'hexagon') return { xy: polygon(6, 0), smooth: false }
  // the flat below, the round above
  const arc = Array.from({ length: AROUND / 2 + 1 }, (_, i) => (Math.PI * i) / (AROUND / 2)).flatMap((a) => [Math.cos(a) / 2, Math.sin(a) - 0.5])
  return { xy: arc, smooth: false }
}

/** Most corners that a drawn section keeps. */
const MOST_CORNERS = 96

/** The outer border of an outline's first shape as a section about its middle; undefined when it has none. */
export function sectionFromOutline(outline: Outline): Section | undefined {
  const [region] = outline.regions
  if (!region) return undefined
  const [x0, y0, x1, y1] = curveBounds(regionPaths(region))
  const size = Math.max(x1 - x0, y1 - y0)
  if (!(x1 - x0 > 0) || !(y1 - y0 > 0)) return undefined
  for (let tolerance = size / 400; ; tolerance *= 1.6) {
    const { rings } = regionPolygons(region, tolerance, outline.lattice)
    const outer = rings.reduce((best, ring) => (doubleArea(ring.xy) > doubleArea(best.xy) ? ring : best), rings[0])
    if (!outer) return undefined
    if (outer.xy.length / 2 > MOST_CORNERS && tolerance < size) continue
    const dx = region.dx - (x0 + x1) / 2
    const dy = region.dy - (y0 + y1) / 2
    const xy = Array.from(outer.xy, (v, i) => (i % 2 === 0 ? (v + dx) / (x1 - x0) : (v + dy) / (y1 - y0)))
    const n = xy.length
    const hollow = xy.some((_, i) => {
      if (i % 2 === 1) return false
      const [ax, ay, bx, by, cx, cy] = [xy[i], xy[i + 1], xy[(i + 2) % n], xy[(i + 3) % n], xy[(i + 4) % n], xy[(i + 5) % n]]
      return (bx - ax) * (cy - by) - (by - ay) * (cx - bx) < -1e-9
    })
    return { xy, smooth: false, hollow }
  }
}

/** A place where a line passes over one that was drawn before. */
export interface Lift {
  readonly line: number
  /** mm along it */
  readonly at: number
}

/** Where lines cross each other or themselves; the later one is the one to be lifted. */
export function crossingsOf(flats: readonly Flat[]): Lift[] {
  const sides: { line: number; at: number; p: readonly number[] }[] = []
  flats.forEach(({ xy, closed }, line) => {
    let at = 0
    const n = xy.length / 2
    for (let i = 0; i + (closed ? 0 : 1) < n; i++) {
      const j = (i + 1) % n
      sides.push({ line, at, p: [xy[2 * i], xy[2 * i + 1], xy[2 * j], xy[2 * j + 1]] })
      at += Math.hypot(xy[2 * j] - xy[2 * i], xy[2 * j + 1] - xy[2 * i + 1])
    }
  })
  const lifts: Lift[] = []
  for (let i = 0; i < sides.length; i++)
    for (let j = i + 2; j < sides.length; j++) {
      const [a, b] = [sides[i].p, sides[j].p]
      const cross = (b[2] - b[0]) * (a[3] - a[1]) - (b[3] - b[1]) * (a[2] - a[0])
      if (Math.abs(cross) < 1e-12) continue
      const s = ((b[2] - b[0]) * (b[1] - a[1]) - (b[3] - b[1]) * (b[0] - a[0])) / cross
      const t = ((a[2] - a[0]) * (b[1] - a[1]) - (a[3] - a[1]) * (b[0] - a[0])) / cross
      if (s <= 1e-9 || s >= 1 - 1e-9 || t <= 1e-9 || t >= 1 - 1e-9) continue
      lifts.push({ line: sides[j].line, at: sides[j].at + t * Math.hypot(b[2] - b[0], b[3] - b[1]) })
    }
  return lifts
}

/** The stations along a line: at its own corners, and more where the section changes; the ends closed as asked. */
export function stationsOf(flat: Flat, params: SweepParams, lifts: readonly Lift[]): Station[] {
  const along = lengthwise(params, flat.closed)
  const points = dense(flat, along, params.width, lifts)
  const n = points.length
  if (n < 2) return []
  const total = points[n - 1].s || 1
  const { closed } = flat
  const radians = Math.PI / 180
  const at = (i: number): Station => {
    const p = points[i]
    const before = points[closed ? (i + n - 2) % (n - 1) : Math.max(0, i - 1)]
    const after = points[closed ? (i + 1) % (n - 1) : Math.min(n - 1, i + 1)]
    const a = unit(p.x - before.x, p.y - before.y) ?? unit(after.x - p.x, after.y - p.y) ?? [1, 0]
    const b = unit(after.x - p.x, after.y - p.y) ?? a
    const m = unit(a[0] + b[0], a[1] + b[1]) ?? a
    const t = p.s / total
    const size = along.size(t)
    return {
      x: p.x,
      y: p.y,
      z: params.height / 2 + liftAt(p.s, lifts, params.width * along.mostSize, params.height * along.mostSize, total, closed),
      nx: -m[1],
      ny: m[0],
      mitre: Math.min(MITRE_LIMIT, 1 / Math.max(0.05, m[0] * a[0] + m[1] * a[1])),
      width: params.width * size,
      height: params.height * size,
      turn: along.turn(t) * radians,
      shift: along.shift(t),
    }
  }
  if (closed) return Array.from({ length: n - 1 }, (_, i) => at(i))
  const stations = Array.from({ length: n }, (_, i) => at(i))
  return [...endOf(stations[0], -1, params.ends).reverse(), ...stations.slice(1, -1), ...endOf(stations[n - 1], 1, params.ends)]
}

function unit(x: number, y: number): [number, number] | undefined {
  const l = Math.hypot(x, y)
  return l > 1e-9 ? [x / l, y / l] : undefined
}

/** The line's points with their distances along it; a ring ends with its first point again. */
function dense({ xy, closed }: Flat, { steady, turning }: Lengthwise, width: number, lifts: readonly Lift[]): { x: number; y: number; s: number }[] {
  const n = xy.length / 2
  let total = 0
  for (let i = 0; i + (closed ? 0 : 1) < n; i++) total += Math.hypot(xy[(2 * i + 2) % (2 * n)] - xy[2 * i], xy[(2 * i + 3) % (2 * n)] - xy[2 * i + 1])
  const longest = Math.max(
    total / 600,
    Math.min(steady ? Infinity : total / 48, turning > 0 ? (total * 6) / turning : Infinity, lifts.length > 0 ? width / 3 : Infinity),
  )
  const out = [{ x: xy[0], y: xy[1], s: 0 }]
  let s = 0
  for (let i = 0; i + (closed ? 0 : 1) < n; i++) {
    const [x0, y0, x1, y1] = [xy[2 * i], xy[2 * i + 1], xy[(2 * i + 2) % (2 * n)], xy[(2 * i + 3) % (2 * n)]]
    const length = Math.hypot(x1 - x0, y1 - y0)
    if (length < 1e-6) continue
    const parts = Math.max(1, Math.ceil(length / longest - 1e-9))
    for (let k = 1; k <= parts; k++) out.push({ x: x0 + ((x1 - x0) * k) / parts, y: y0 + ((y1 - y0) * k) / parts, s: s + (length * k) / parts })
    s += length
  }
  return out
}

/** How high a line stands where it passes over others, mm: a whole section and a little, risen to over three widths. */
function liftAt(s: number, lifts: readonly Lift[], width: number, height: number, total: number, closed: boolean): number {
  let most = 0
  const [flat, ramp] = [width * 0.8, width * 2.2]
  for (const { at } of lifts) {
    const gap = closed ? Math.min(Math.abs(s - at), total - Math.abs(s - at)) : Math.abs(s - at)
    const f = Math.max(0, Math.min(1, (flat + ramp - gap) / ramp))
    most = Math.max(most, smooth(f) * height * 1.12)
  }
  return most
}

const STEPS = 8

/** The end station and what closes it, outwards. */
function endOf(s: Station, way: 1 | -1, ends: SweepParams['ends']): Station[] {
  if (ends === 'flat' || s.width <= 0) return [s]
  const [tx, ty] = [way * s.ny, -way * s.nx]
  const reach = ends === 'round' ? s.width / 2 : s.width * 1.5
  const count = ends === 'round' ? STEPS : 1
  const out = [s]
  for (let k = 1; k <= count; k++) {
    const angle = (Math.PI / 2) * (k / count)
    const [far, size] = ends === 'round' ? [Math.sin(angle), Math.cos(angle)] : [1, 0]
    const scale = k === count ? 0 : size
    out.push({ ...s, x: s.x + tx * reach * far, y: s.y + ty * reach * far, width: s.width * scale, height: s.height * scale })
  }
  return out
}
