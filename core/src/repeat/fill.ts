import { randomShares } from '../cache/random'
import { type Line, lengthsOf, type Spot, spotAt, unit } from '../centre/line'
import type { CentreStroke } from '../centre/strokes'
import { sidesOfRings } from '../kernel/sides'
import { distanceTo } from '../mask/outline-distance'
import { type PolygonSet, winding } from '../outline/polygon'
import { balanced } from './balance'
import { NearPlaces } from './near'
import { FILLS } from './fills'

export type FillPattern = (typeof FILLS)[number]

export interface Fill {
  readonly pattern: FillPattern
  /** from one unit to the next, mm */
  readonly pitch: number
  /** half the width of a unit, and what is kept free between it and the edge, mm */
  readonly radius: number
  readonly edge: number
  /** down the middle: whether corners of strokes get one, and how many rows stand side by side at most where there is room */
  readonly corners: boolean
  readonly rows: number
  /** of rows and hexagons: turned, degrees; and a place they go through, mm */
  readonly angle: number
  readonly through: readonly [number, number]
  /** of dots */
  readonly seed: number
}

export interface Filled {
  /** x, y and the direction of travel there, degrees, three numbers a unit */
  readonly places: Float64Array
  /** of the middle lines: how many strokes have no room for a single unit */
  readonly narrow: number
}

/** Shares of the pitch: no two are nearer than the first; units of two strokes than the second; steps in which a line is looked along. */
const NEAREST = 0.7

const APART = 0.8

const LOOK = 1 / 24

/** A stroke that others left no room for gets one if it stands this far from them, of the pitch. */
const SQUEEZED = 0.5

/**
 * Places for units inside an area: none nearer to its border than `radius + edge`, by exact distance to its polygons. Strokes are asked for only where the middle of
 * strokes is to be followed. Rows of bulbs: longest strokes first, stretches that are clear of the edge and of what stands filled evenly (shared/deform-notes.md §4).
 */
export function filled(set: PolygonSet, strokes: () => readonly CentreStroke[], fill: Fill): Filled {
  const rings = set.rings
  const need = fill.radius + fill.edge
  const distance = distanceTo(sidesOfRings(rings.map(({ xy }) => xy)), need * 1.01 + 1e-6)
  const clear = (x: number, y: number) => distance(x, y) >= need && winding(rings, x, y) > 0
  const [x0, y0, x1, y1] = boxOf(rings)
  if (!(x1 - x0 >= 2 * need && y1 - y0 >= 2 * need)) return { places: new Float64Array(0), narrow: fill.pattern === 'middle' ? strokes().length : 0 }
  switch (fill.pattern) {
    case 'middle':
      return new MiddleRows(strokes(), rings, clear, fill).run()
    case 'rows':
      return { places: inRows(rings, clear, fill, false), narrow: 0 }
    case 'hexagons':
      return { places: inRows(rings, clear, fill, true), narrow: 0 }
    case 'dots':
      return { places: dots([x0 + need, y0 + need, x1 - need, y1 - need], clear, fill), narrow: 0 }
  }
}

function boxOf(rings: PolygonSet['rings'], along: readonly [number, number] = [1, 0]): [number, number, number, number] {
  const box: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity]
  for (const { xy } of rings)
    for (let i = 0; i < xy.length; i += 2) {
      const u = xy[i] * along[0] + xy[i + 1] * along[1]
      const v = -xy[i] * along[1] + xy[i + 1] * along[0]
      box[0] = Math.min(box[0], u)
      box[1] = Math.min(box[1], v)
      box[2] = Math.max(box[2], u)
      box[3] = Math.max(box[3], v)
    }
  return box
}

/** Rows through the whole word at one pitch: filled evenly from edge to edge, or at the places of an even triangular lattice. */
function inRows(rings: PolygonSet['rings'], clear: (x: number, y: number) => boolean, { pitch, angle, through }: Fill, hexagons: boolean): Float64Array {
  const [c, s] = [Math.cos((angle * Math.PI) / 180), Math.sin((angle * Math.PI) / 180)]
  const [u0, v0, u1, v1] = boxOf(rings, [c, s])
  const [tu, tv] = [through[0] * c + through[1] * s, -through[0] * s + through[1] * c]
  const high = hexagons ? (pitch * Math.sqrt(3)) / 2 : pitch
  const out: number[] = []
  const isClear = (u: number, v: number) => clear(u * c - v * s, u * s + v * c)
  const put = (u: number, v: number) => isClear(u, v) && out.push(u * c - v * s, u * s + v * c, angle)
  for (let row = Math.ceil((v0 - tv) / high); tv + row * high <= v1; row++) {
    const v = tv + row * high
    if (hexagons) {
      const begin = tu + (row & 1 ? pitch / 2 : 0)
      for (let k = Math.ceil((u0 - begin) / pitch); begin + k * pitch <= u1; k++) put(begin + k * pitch, v)
      continue
    }
    for (const [from, to] of stretches(u1 - u0, pitch * LOOK, (at) => isClear(u0 + at, v))) {
      const gaps = Math.max(0, Math.round((to - from) / pitch - 0.15))
      for (let k = 0; k <= gaps; k++) put(u0 + (gaps > 0 ? from + ((to - from) * k) / gaps : (from + to) / 2), v)
    }
  }
  return Float64Array.from(out)
}

/** Stretches of a length over which something holds, looked for in steps; their ends are found by halving. */
function stretches(length: number, step: number, holds: (at: number) => boolean): [number, number][] {
  const out: [number, number][] = []
  const count = Math.max(1, Math.ceil(length / step))
  let [from, before, held] = [0, 0, false]
  const border = (yes: number, no: number) => {
    let [a, b] = [yes, no]
    for (let i = 0; i < 12; i++) {
      const middle = (a + b) / 2
      if (holds(middle)) a = middle
      else b = middle
    }
    return a
  }
  for (let i = 0; i <= count; i++) {
    const at = (length * i) / count
    const now = holds(at)
    if (now && !held) from = i === 0 ? 0 : border(at, before)
    if (!now && held) out.push([from, border(before, at)])
    ;[held, before] = [now, at]
  }
  if (held) out.push([from, length])
  return out
}

/** Places in no order, none nearer than a pitch to another, until no more fit (dart throwing: Cook, Stochastic sampling in computer graphics, 1986). */
function dots([x0, y0, x1, y1]: readonly number[], clear: (x: number, y: number) => boolean, { pitch, seed, angle }: Fill): Float64Array {
  const next = randomShares(seed)
  const near = new NearPlaces(pitch)
  const out: number[] = []
  const throws = Math.min(2_000_000, Math.ceil((40 * (x1 - x0) * (y1 - y0)) / (pitch * pitch)) + 40)
  for (let i = 0; i < throws; i++) {
    const [x, y] = [x0 + next() * (x1 - x0), y0 + next() * (y1 - y0)]
    if (near.nearest(x, y) < pitch || !clear(x, y)) continue
    near.add(x, y)
    out.push(x, y, angle)
  }
  return Float64Array.from(out)
}

/** A line that gets units, of one stroke. */
interface Track {
  readonly stroke: number
  readonly line: Line
  readonly lengths: Float64Array
  readonly closed: boolean
  /** it is the only one of its stroke, and goes down its middle */
  readonly middle: boolean
}

/** Units down the middle of strokes. */
class MiddleRows {
  private readonly out: number[] = []
  private readonly near: NearPlaces
  private readonly got: Uint8Array

  constructor(
    private readonly strokes: readonly CentreStroke[],
    private readonly rings: PolygonSet['rings'],
    private readonly clear: (x: number, y: number) => boolean,
    private readonly fill: Fill,
  ) {
    this.near = new NearPlaces(fill.pitch)
    this.got = new Uint8Array(strokes.length)
  }

  run(): Filled {
    const { strokes, fill } = this
    const tracks: Track[] = []
    strokes.forEach(({ points, closed, dot }, stroke) => {
      if (dot) return
      const widths = points.map(([, , r]) => r).sort((a, b) => a - b)
      const wide = widths[widths.length >> 1]
      const room = Math.floor((2 * (wide - fill.radius - fill.edge)) / fill.pitch + 1)
      const rows = Math.max(1, Math.min(fill.rows, room))
      for (let k = 0; k < rows; k++) {
        const moved = rows > 1 ? movedAside(points, closed, (k - (rows - 1) / 2) * fill.pitch) : points
        const line = closed ? [...moved, moved[0]] : moved
        tracks.push({ stroke, line, lengths: lengthsOf(line), closed, middle: rows === 1 })
      }
    })
    if (fill.corners) this.putCorners()
    tracks.sort((a, b) => length(b) - length(a))
    for (const track of tracks) this.fillTrack(track)
    strokes.forEach(({ points: [[x, y]], dot }, stroke) => {
      if (dot) this.put(x, y, 0, APART, stroke)
    })
    // a stroke that others left no room for
    for (const track of tracks) if (!this.got[track.stroke] && length(track) > fill.pitch) this.squeeze(track)
    return { places: Float64Array.from(this.out), narrow: this.got.reduce((sum, got) => sum + (got ? 0 : 1), 0) }
  }

  private put(x: number, y: number, angle: number, apart: number, stroke: number): boolean {
    if (!this.clear(x, y) || this.near.nearest(x, y) < apart * this.fill.pitch) return false
    this.near.add(x, y)
    this.out.push(x, y, angle)
    this.got[stroke] = 1
    return true
  }

  /** One where the ends of two strokes meet. */
  private putCorners(): void {
    const ends = this.strokes.flatMap(({ points, closed, dot }, stroke) =>
      closed || dot ? [] : [points[0], points[points.length - 1]].map(([x, y]) => ({ x, y, stroke })),
    )
    ends.forEach(({ x, y, stroke }, i) => {
      const mates = ends.filter((other, j) => j !== i && Math.hypot(other.x - x, other.y - y) < 1e-6)
      if (mates.length > 0 && this.put(x, y, 0, APART, stroke)) for (const mate of mates) this.got[mate.stroke] = 1
    })
  }

  private fillTrack(track: Track): void {
    const { pitch } = this.fill
    const { line, lengths, closed, stroke } = track
    const whole = length(track)
    const at = (s: number) => spotAt(line, lengths, s)
    // a unit that stands on the line's own end is no neighbour to keep away from but where its row begins
    const own = [0, whole].map((s) => {
      const [x, y] = at(s)
      return this.near.nearest(x, y) < 1e-6
    })
    const [first, last] = [at(0), at(whole)]
    const isOwn = (number: number) => {
      const [x, y] = [this.out[3 * number], this.out[3 * number + 1]]
      return (own[0] && Math.hypot(x - first[0], y - first[1]) < 1e-6) || (own[1] && Math.hypot(x - last[0], y - last[1]) < 1e-6)
    }
    const holds = (s: number) => {
      const [x, y] = at(s)
      return this.clear(x, y) && this.near.nearest(x, y, 0, (number) => !isOwn(number)) >= APART * pitch
    }
    const runs = stretches(whole, pitch * LOOK, holds)
    if (closed && runs.length === 1 && runs[0][0] === 0 && runs[0][1] === whole) {
      const count = Math.max(1, Math.round(whole / pitch))
      for (let k = 0; k < count; k++) this.putAt(track, (whole * k) / count)
      return
    }
    for (const [from, to] of runs) {
      const [begins, ends] = [own[0] && from < 1e-9, own[1] && to > whole - 1e-9]
      const gaps = Math.max(0, Math.round((to - from) / pitch - (begins || ends ? 0 : 0.15)))
      for (let k = begins ? 1 : 0; k <= (ends ? gaps - 1 : gaps); k++) this.putAt(track, gaps > 0 ? from + ((to - from) * k) / gaps : (from + to) / 2)
      if (begins || ends) this.got[stroke] = 1
    }
  }

  private putAt({ line, lengths, stroke, middle }: Track, s: number): void {
    const [x, y] = spotAt(line, lengths, s)
    const angle = directionAt(line, lengths, s)
    const [u, v] = (middle && balanced(this.rings, x, y, angle)) || [x, y]
    this.put(u, v, angle, NEAREST, stroke)
  }

  private squeeze({ line, lengths, stroke }: Track): void {
    const { pitch } = this.fill
    const whole = lengths[lengths.length - 1]
    let [best, found] = [SQUEEZED * pitch, -1]
    for (let s = 0; s <= whole; s += pitch * LOOK) {
      const [x, y] = spotAt(line, lengths, s)
      const far = this.near.nearest(x, y)
      if (far <= best || !this.clear(x, y)) continue
      ;[best, found] = [far, s]
    }
    if (found < 0) return
    const [x, y] = spotAt(line, lengths, found)
    this.put(x, y, directionAt(line, lengths, found), SQUEEZED, stroke)
  }
}

const length = ({ lengths }: Track): number => lengths[lengths.length - 1]

/** The direction of a line at a length along it, degrees. */
function directionAt(line: Line, lengths: Float64Array, s: number): number {
  const whole = lengths[lengths.length - 1]
  const by = whole / 200
  const [a, b] = [spotAt(line, lengths, Math.max(0, s - by)), spotAt(line, lengths, Math.min(whole, s + by))]
  return (Math.atan2(b[1] - a[1], b[0] - a[0]) * 180) / Math.PI
}

/** A line moved to its left. */
function movedAside(line: Line, closed: boolean, by: number): Line {
  const n = line.length
  return line.map(([x, y, r], i): Spot => {
    const a = line[closed ? (i + n - 1) % n : Math.max(0, i - 1)]
    const b = line[closed ? (i + 1) % n : Math.min(n - 1, i + 1)]
    const [dx, dy] = unit(b[0] - a[0], b[1] - a[1])
    return [x - dy * by, y + dx * by, r]
  })
}
