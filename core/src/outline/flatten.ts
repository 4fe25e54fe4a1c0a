import { latticeKey, snap } from './lattice'
import { LINE, type Path, QUADRATIC } from './path'

/**
 * A contour as a polygon. `xy` holds x, y pairs (mm), without repeating the first point when closed.
 * `tangents` holds four numbers a vertex: the unit direction of travel arriving (x, y) and leaving (x, y), taken from the
 * curve itself and not from the chords; at a smooth vertex the two are equal bit for bit.
 */
export interface Flat {
  readonly xy: Float64Array
  readonly tangents: Float64Array
  readonly closed: boolean
}

export interface FlattenOptions {
  /** largest distance between curve and chord, mm */
  readonly tolerance: number
  /** largest turn between neighbouring chords of one curve, degrees; keeps small curves round. Default 15. */
  readonly maxTurn?: number
  /** points are rounded to multiples of this, mm; 0 leaves them. Default 0. */
  readonly lattice?: number
}

/** A turn under this at a node where a curve takes part counts as drawn smooth (fonts round nodes to whole units). */
const SMOOTH_NODE_DEGREES = 8
const SMOOTH_LINES_DEGREES = 1

/**
 * Flattens a path. Curves are divided evenly in their parameter with as many chords as the second difference bound
 * (Wang, "Pyramid algorithms") asks for at `tolerance`, and as their total turn asks for at `maxTurn`.
 * The result is a new value; coinciding neighbours are dropped.
 */
export function flattenPath(path: Path, options: FlattenOptions): Flat {
  const { tolerance, maxTurn = 15, lattice = 0 } = options
  const round = (v: number) => (lattice > 0 ? snap(v, lattice) : v)
  const xy: number[] = []
  const arrive: number[] = []
  const leave: number[] = []
  const straight: number[] = [] // bit 0: the segment arriving is a line, bit 1: the one leaving
  const add = (x: number, y: number, ax: number, ay: number, lx: number, ly: number, flags: number) => {
    xy.push(round(x), round(y))
    arrive.push(ax, ay)
    leave.push(lx, ly)
    straight.push(flags)
  }
  const c = path.coords
  let o = 0
  add(c[0], c[1], NaN, NaN, NaN, NaN, 0)
  const depart = (dx: number, dy: number, line: boolean) => {
    const k = leave.length - 2
    leave[k] = dx
    leave[k + 1] = dy
    if (line) straight[straight.length - 1] |= 2
  }
  for (const verb of path.verbs) {
    const x0 = c[o]
    const y0 = c[o + 1]
    if (verb === LINE) {
      const x = c[o + 2]
      const y = c[o + 3]
      const length = Math.hypot(x - x0, y - y0)
      if (length > 0) {
        const dx = (x - x0) / length
        const dy = (y - y0) / length
        depart(dx, dy, true)
        add(x, y, dx, dy, NaN, NaN, 1)
      }
    } else {
      const p = cubicOf(c, o, verb)
      const pieces = chordCount(p, tolerance, maxTurn)
      if (pieces > 0) {
        const start = direction(p, 0)
        depart(start[0], start[1], false)
        for (let i = 1; i <= pieces; i++) {
          const t = i / pieces
          const d = direction(p, t)
          if (i === pieces) add(p[6], p[7], d[0], d[1], NaN, NaN, 0)
          else add(bezier(p[0], p[2], p[4], p[6], t), bezier(p[1], p[3], p[5], p[7], t), d[0], d[1], d[0], d[1], 0)
        }
      }
    }
    o += 2 * verb
  }
  return finish(xy, arrive, leave, straight, path.closed)
}

/** Control points of any curved segment as a cubic: [x0, y0, … x3, y3]. */
function cubicOf(c: Float64Array, o: number, verb: number): number[] {
  if (verb !== QUADRATIC) return Array.from(c.subarray(o, o + 8))
  const [x0, y0, x1, y1, x2, y2] = c.subarray(o, o + 6)
  return [x0, y0, x0 + ((x1 - x0) * 2) / 3, y0 + ((y1 - y0) * 2) / 3, x2 + ((x1 - x2) * 2) / 3, y2 + ((y1 - y2) * 2) / 3, x2, y2]
}

function bezier(a: number, b: number, c: number, d: number, t: number): number {
  const s = 1 - t
  return s * s * s * a + 3 * s * s * t * b + 3 * s * t * t * c + t * t * t * d
}

/** Unit direction of travel at t; where the derivative vanishes, that of the nearest differing control points. */
function direction(p: number[], t: number): [number, number] {
  const s = 1 - t
  let dx = s * s * (p[2] - p[0]) + 2 * s * t * (p[4] - p[2]) + t * t * (p[6] - p[4])
  let dy = s * s * (p[3] - p[1]) + 2 * s * t * (p[5] - p[3]) + t * t * (p[7] - p[5])
  const scale = Math.abs(p[6] - p[0]) + Math.abs(p[7] - p[1]) + Math.abs(p[2] - p[0]) + Math.abs(p[3] - p[1])
  if (Math.hypot(dx, dy) < 1e-9 * scale) {
    const late = t > 0.5
    dx = late ? p[6] - p[2] : p[4] - p[0]
    dy = late ? p[7] - p[3] : p[5] - p[1]
    if (Math.hypot(dx, dy) < 1e-9 * scale) {
      dx = p[6] - p[0]
      dy = p[7] - p[1]
    }
  }
  const length = Math.hypot(dx, dy)
  return length > 0 ? [dx / length, dy / length] : [1, 0]
}

/** Into how many chords a cubic (eight numbers) is divided evenly in its parameter for a tolerance in mm and a turn in degrees. */
export function chordCount(p: ArrayLike<number>, tolerance: number, maxTurn: number): number {
  const ax = p[0] - 2 * p[2] + p[4]
  const ay = p[1] - 2 * p[3] + p[5]
  const bx = p[2] - 2 * p[4] + p[6]
  const by = p[3] - 2 * p[5] + p[7]
  const bend = Math.max(Math.hypot(ax, ay), Math.hypot(bx, by))
  const legs = [p[2] - p[0], p[3] - p[1], p[4] - p[2], p[5] - p[3], p[6] - p[4], p[7] - p[5]]
  let turn = 0
  let px = 0
  let py = 0
  let length = 0
  for (let i = 0; i < 6; i += 2) {
    const l = Math.hypot(legs[i], legs[i + 1])
    length += l
    if (l < 1e-12) continue
    if (px !== 0 || py !== 0) turn += Math.abs(Math.atan2(px * legs[i + 1] - py * legs[i], px * legs[i] + py * legs[i + 1]))
    px = legs[i]
    py = legs[i + 1]
  }
  if (length < 1e-9) return 0
  const byBend = Math.ceil(Math.sqrt((0.75 * bend) / tolerance))
  const byTurn = Math.ceil((turn * 180) / Math.PI / maxTurn)
  // a curve far smaller than the tolerance needs no roundness: its chords would be shorter than what one can see
  const byLength = Math.max(1, Math.ceil(length / (tolerance * 0.5)))
  return Math.min(512, Math.max(1, byBend, Math.min(byTurn, byLength)))
}

function finish(xy: number[], arrive: number[], leave: number[], straight: number[], closed: boolean): Flat {
  // merge coinciding neighbours: the later one leaves, the earlier one arrives
  const keep: number[] = []
  const n = straight.length
  for (let i = 0; i < n; i++) {
    const last = keep[keep.length - 1]
    if (last !== undefined && xy[2 * i] === xy[2 * last] && xy[2 * i + 1] === xy[2 * last + 1]) mergeInto(last, i)
    else keep.push(i)
  }
  function mergeInto(a: number, b: number) {
    leave[2 * a] = leave[2 * b]
    leave[2 * a + 1] = leave[2 * b + 1]
    straight[a] = (straight[a] & 1) | (straight[b] & 2)
  }
  if (closed) {
    while (keep.length > 1) {
      const first = keep[0]
      const last = keep[keep.length - 1]
      if (xy[2 * first] !== xy[2 * last] || xy[2 * first + 1] !== xy[2 * last + 1]) break
      arrive[2 * first] = arrive[2 * last]
      arrive[2 * first + 1] = arrive[2 * last + 1]
      straight[first] = (straight[first] & 2) | (straight[last] & 1)
      keep.pop()
    }
  }
  const m = keep.length
  const out = { xy: new Float64Array(2 * m), tangents: new Float64Array(4 * m), closed }
  for (let k = 0; k < m; k++) {
    const i = keep[k]
    const before = keep[(k + m - 1) % m]
    const after = keep[(k + 1) % m]
    const x = xy[2 * i]
    const y = xy[2 * i + 1]
    out.xy[2 * k] = x
    out.xy[2 * k + 1] = y
    let a: [number, number] = [arrive[2 * i], arrive[2 * i + 1]]
    let l: [number, number] = [leave[2 * i], leave[2 * i + 1]]
    let line = straight[i]
    // closing chords and open ends have no curve of their own
    if (Number.isNaN(a[0])) {
      a = closed ? unit(x - xy[2 * before], y - xy[2 * before + 1]) : l
      line |= 1
    }
    if (Number.isNaN(l[0])) {
      l = closed ? unit(xy[2 * after] - x, xy[2 * after + 1] - y) : a
      line |= 2
    }
    const turn = (Math.abs(Math.atan2(a[0] * l[1] - a[1] * l[0], a[0] * l[0] + a[1] * l[1])) * 180) / Math.PI
    if (turn < (line === 3 ? SMOOTH_LINES_DEGREES : SMOOTH_NODE_DEGREES)) {
      // a line is straight all along: where it meets a curve smoothly, its direction is the one to keep
      const t: [number, number] = line === 1 ? a : line === 2 ? l : unit(a[0] + l[0], a[1] + l[1])
      a = t
      l = t
    }
    out.tangents.set([a[0], a[1], l[0], l[1]], 4 * k)
  }
  return out
}

function unit(x: number, y: number): [number, number] {
  const length = Math.hypot(x, y)
  return length > 0 ? [x / length, y / length] : [1, 0]
}

/** The tangents of flattened contours by lattice point, to find them again after clipping. */
export class TangentIndex {
  private readonly at = new Map<number, Float64Array | null>()

  constructor(private readonly lattice: number) {}

  add(flat: Flat): void {
    const n = flat.xy.length / 2
    for (let i = 0; i < n; i++) {
      const key = latticeKey(flat.xy[2 * i], flat.xy[2 * i + 1], this.lattice)
      // a point that several contours pass through has no single tangent
      this.at.set(key, this.at.has(key) ? null : flat.tangents.subarray(4 * i, 4 * i + 4))
    }
  }

  /** The four tangent numbers stored for the point (a view), or undefined when the point is new or shared. */
  find(x: number, y: number): Float64Array | undefined {
    return this.at.get(latticeKey(x, y, this.lattice)) ?? undefined
  }
}
