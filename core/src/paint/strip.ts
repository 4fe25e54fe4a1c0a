import type { Line, Spot } from '../centre/line'
import { lengthsOf, spotAt } from '../centre/line'
import { snap } from '../outline/lattice'
import { SolidBuilder } from '../solid/builder'
import { constrainedTriangles } from '../solid/delaunay'
import { BACK, FACE, RETURN } from '../solid/labels'
import { noise } from '../solid/noise'
import type { Solid } from '../solid/solid'

/** How paint lies on a stroke. Curves go by how far along it is, 0 to 1. */
export interface PaintStyle {
  /** of the paint over the ground where it is thickest, mm */
  readonly height: number
  /** ridges that bristles leave side by side, and how deep they are, as a share of the height */
  readonly bristles: number
  readonly depth: number
  /** how uneven the borders are, as a share of the width */
  readonly uneven: number
  /** length of the points at the start and the end, in widths; 0 ends roundly */
  readonly pointed: number
  /** how far the end rises off the ground, mm */
  readonly lift: number
  readonly size: (t: number) => number
  /** degrees by which the strip leans to its left */
  readonly bank: (t: number) => number
  readonly seed: number
}

/** What is never fallen below: thickness against the height. */
const THINNEST = 0.14
/** A strip is no wider on the inside of a bend than this share of the bend's radius. */
const INSIDE = 0.9
const COLUMNS_A_RIDGE = 4
/** Stations lie this share of half the width apart. */
const STEP = 0.28
const MOST_STATIONS = 160

/** Strips of paint along one line, worked out once so that parts of it fit into each other. */
export class PaintStrip {
  readonly stations: number
  private readonly columns: number
  /** x, y, z of the upper side: columns from left to right, station by station */
  private readonly top: Float64Array
  /** x, y, z of the left and the right lower border of each station */
  private readonly low: Float64Array
  private readonly along: Float64Array
  private readonly across: Float64Array

  /** `line`: places with half the width of the brush there, mm, smooth and in the order of the stroke. */
  constructor(
    line: Line,
    style: PaintStyle,
    private readonly lattice: number,
  ) {
    const lengths = lengthsOf(line)
    const length = lengths[lengths.length - 1]
    const widest = Math.max(...line.map(([, , half]) => half)) || 1e-3
    const count = Math.max(8, Math.min(MOST_STATIONS, Math.ceil(length / (STEP * widest))))
    this.stations = count + 1
    this.columns = COLUMNS_A_RIDGE * style.bristles + 1
    const spots = Array.from({ length: count + 1 }, (_, i) => spotAt(line, lengths, (length * i) / count))
    const ways = spots.map((_, i) => direction(spots, i))
    const halves = widths(spots, ways, length, style)
    const { columns } = this
    this.top = new Float64Array(3 * columns * (count + 1))
    this.low = new Float64Array(6 * (count + 1))
    this.along = Float64Array.from({ length: count + 1 }, (_, i) => (length * i) / count)
    this.across = new Float64Array(columns * (count + 1))
    const value = noise(style.seed)
    for (let i = 0; i <= count; i++) {
      const t = i / count
      const [x, y] = spots[i]
      const [nx, ny] = [-ways[i][1], ways[i][0]]
      const bank = (style.bank(t) * Math.PI) / 180
      const lean = Math.sin(bank)
      const rise = style.lift * smooth((t - 0.6) / 0.4) + Math.max(-lean * halves.left[i], lean * halves.right[i], 0)
      const s = this.along[i]
      // the brush runs dry: ridges part towards the end
      const dry = 0.5 + 0.5 * smooth((t - 0.35) / 0.65)
      for (let k = 0; k < columns; k++) {
        const u = 1 - (2 * k) / (columns - 1)
        const side = u >= 0 ? u * halves.left[i] : u * halves.right[i]
        const bristle = (style.bristles * (u + 1)) / 2
        const wander = 0.35 * value(u * 1.7, s / (9 * widest), 0.5)
        const ridge = 0.5 - 0.5 * Math.cos(2 * Math.PI * (bristle + wander))
        const streak = 0.5 + 0.5 * value(bristle * 0.9 + 7.3, s / (5 * widest), 3.1)
        const full = Math.sqrt(Math.max(0, 1 - Math.abs(u) ** 3))
        const groove = style.depth * dry * (1 - ridge * (0.45 + 0.55 * streak))
        const thick = style.height * Math.min(1, halves.share[i] * 1.6) * Math.max(THINNEST, full * (1 - groove))
        const o = 3 * (columns * i + k)
        this.top[o] = x + nx * side
        this.top[o + 1] = y + ny * side
        this.top[o + 2] = rise + lean * side + thick
        this.across[columns * i + k] = side
      }
      for (const [j, side] of [halves.left[i], -halves.right[i]].entries()) {
        this.low[6 * i + 3 * j] = x + nx * side
        this.low[6 * i + 3 * j + 1] = y + ny * side
        this.low[6 * i + 3 * j + 2] = rise + lean * side
      }
    }
  }

  /** The closed solid of the stations from one to another. */
  solid(from: number, to: number): Solid {
    const { columns, top, low, lattice } = this
    const mesh = new SolidBuilder(lattice)
    const at = (array: Float64Array, o: number) => mesh.vertex(snap(array[o], lattice), snap(array[o + 1], lattice), snap(array[o + 2], lattice))
    const tops = new Int32Array(columns * this.stations)
    const lows = new Int32Array(2 * this.stations)
    for (let i = from; i <= to; i++) {
      for (let k = 0; k < columns; k++) tops[columns * i + k] = at(top, 3 * (columns * i + k))
      for (let j = 0; j < 2; j++) lows[2 * i + j] = at(low, 6 * i + 3 * j)
    }
    const upper = (slot: number, i: number, k: number) => {
      this.upperNormal(mesh, slot, i, k)
      mesh.setUv(slot, this.along[i], this.across[columns * i + k])
      return tops[columns * i + k]
    }
    /** a corner of a side or of the ground */
    const plain = (slot: number, n: readonly [number, number, number], i: number, v: number, across: number) => {
      mesh.setNormal(slot, n[0], n[1], n[2])
      mesh.setUv(slot, this.along[i], across)
      return v
    }
    for (let i = from; i < to; i++) {
      for (let k = 0; k + 1 < columns; k++) {
        mesh.triangle(upper(0, i, k), upper(1, i, k + 1), upper(2, i + 1, k + 1), FACE, 0)
        mesh.triangle(upper(0, i, k), upper(1, i + 1, k + 1), upper(2, i + 1, k), FACE, 0)
      }
      for (const [j, k] of [
        [0, 0],
        [1, columns - 1],
      ] as const) {
        const out = this.sideways(i, j)
        const [a, b] = [this.across[columns * i + k], this.across[columns * (i + 1) + k]]
        const [t0, t1, l0, l1] = [tops[columns * i + k], tops[columns * (i + 1) + k], lows[2 * i + j], lows[2 * (i + 1) + j]]
        const up = j === 0 ? 1 : -1
        mesh.triangle(plain(0, out, i, l0, a), plain(1, out, i, t0, a), plain(2, out, i + 1, t1, b), RETURN, 0, up)
        mesh.triangle(plain(0, out, i, l0, a), plain(1, out, i + 1, t1, b), plain(2, out, i + 1, l1, b), RETURN, 0, up)
      }
      const down = [0, 0, -1] as const
      const [l0, r0, l1, r1] = [lows[2 * i], lows[2 * i + 1], lows[2 * i + 2], lows[2 * i + 3]]
      const edge = (station: number, k: number) => this.across[columns * station + k]
      const [al, ar, bl, br] = [edge(i, 0), edge(i, columns - 1), edge(i + 1, 0), edge(i + 1, columns - 1)]
      mesh.triangle(plain(0, down, i, l0, al), plain(1, down, i + 1, l1, bl), plain(2, down, i + 1, r1, br), BACK, 0)
      mesh.triangle(plain(0, down, i, l0, al), plain(1, down, i + 1, r1, br), plain(2, down, i, r0, ar), BACK, 0)
    }
    this.close(mesh, from, -1, tops, lows)
    this.close(mesh, to, 1, tops, lows)
    return mesh.finish([''])
  }

  /** All points of the stations from one to another. */
  points(from: number, to: number): [number, number, number][] {
    const { top, low, columns } = this
    const all = [...top.subarray(3 * columns * from, 3 * columns * (to + 1)), ...low.subarray(6 * from, 6 * (to + 1))]
    return Array.from({ length: all.length / 3 }, (_, i) => [all[3 * i], all[3 * i + 1], all[3 * i + 2]])
  }

  /** The flat end at a station, where it has one: a point has none. */
  private close(mesh: SolidBuilder, i: number, way: 1 | -1, tops: Int32Array, lows: Int32Array): void {
    const { columns } = this
    const ids = [...tops.subarray(columns * i, columns * (i + 1)), lows[2 * i + 1], lows[2 * i]]
    const ring = ids.filter((id, n) => id !== ids[(n + 1) % ids.length])
    if (new Set(ring).size < 3) return
    const x = new Map<number, number>()
    const y = new Map<number, number>()
    const put = (id: number, side: number, up: number) => void (x.set(id, side), y.set(id, up))
    for (let k = 0; k < columns; k++) put(tops[columns * i + k], this.across[columns * i + k], this.top[3 * (columns * i + k) + 2])
    put(lows[2 * i], this.across[columns * i], this.low[6 * i + 2])
    put(lows[2 * i + 1], this.across[columns * i + columns - 1], this.low[6 * i + 5])
    const numbers = ring.map((_, n) => n)
    const [xs, ys] = [ring.map((id) => x.get(id) as number), ring.map((id) => y.get(id) as number)]
    // seen along the stroke left is on the left, and the ring runs clockwise over the top
    const found =
      constrainedTriangles(
        [[...numbers].reverse()],
        numbers,
        xs.map((v) => -v),
        ys,
      ) ?? fan(numbers)
    const [nx, ny] = this.forward(i)
    for (let t = 0; t < found.length; t += 3) {
      for (let k = 0; k < 3; k++) {
        mesh.setNormal(k, way * nx, way * ny, 0)
        mesh.setUv(k, this.along[i], xs[found[t + k]])
      }
      mesh.triangle(ring[found[t]], ring[found[t + 1]], ring[found[t + 2]], RETURN, 0, way === 1 ? -1 : 1)
    }
  }

  private forward(i: number): [number, number] {
    const [x, y] = [this.low[6 * i] - this.low[6 * i + 3], this.low[6 * i + 1] - this.low[6 * i + 4]]
    const size = Math.hypot(x, y) || 1
    return [y / size, -x / size]
  }

  private sideways(i: number, j: 0 | 1): [number, number, number] {
    const [dx, dy] = [this.low[6 * (i + 1) + 3 * j] - this.low[6 * i + 3 * j], this.low[6 * (i + 1) + 3 * j + 1] - this.low[6 * i + 3 * j + 1]]
    const size = (j === 0 ? 1 : -1) / (Math.hypot(dx, dy) || 1)
    return [-dy * size, dx * size, 0]
  }

  /** Across the lines to the points beside it. */
  private upperNormal(mesh: SolidBuilder, slot: number, i: number, k: number): void {
    const { columns, top } = this
    const place = (s: number, c: number) => 3 * (columns * Math.max(0, Math.min(this.stations - 1, s)) + Math.max(0, Math.min(columns - 1, c)))
    const [a, b, c, d] = [place(i - 1, k), place(i + 1, k), place(i, k + 1), place(i, k - 1)]
    const [ux, uy, uz] = [top[b] - top[a], top[b + 1] - top[a + 1], top[b + 2] - top[a + 2]]
    const [vx, vy, vz] = [top[d] - top[c], top[d + 1] - top[c + 1], top[d + 2] - top[c + 2]]
    const [x, y, z] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx]
    const size = Math.hypot(x, y, z)
    if (size > 1e-12) mesh.setNormal(slot, x / size, y / size, z / size)
    else mesh.setNormal(slot, 0, 0, 1)
  }
}

const fan = (ring: readonly number[]): number[] => ring.slice(2).flatMap((n, i) => [ring[0], n, ring[i + 1]])

const smooth = (f: number) => {
  const t = Math.max(0, Math.min(1, f))
  return t * t * (3 - 2 * t)
}

function direction(spots: readonly Spot[], i: number): [number, number] {
  const [a, b] = [spots[Math.max(0, i - 1)], spots[Math.min(spots.length - 1, i + 1)]]
  const size = Math.hypot(b[0] - a[0], b[1] - a[1]) || 1
  return [(b[0] - a[0]) / size, (b[1] - a[1]) / size]
}

/** Half the width to the left and to the right at every station, and what share of the brush that is. */
function widths(spots: readonly Spot[], ways: readonly (readonly [number, number])[], length: number, { size, pointed, uneven, seed }: PaintStyle) {
  const n = spots.length
  const step = length / (n - 1)
  const share = new Float64Array(n)
  const [left, right] = [new Float64Array(n), new Float64Array(n)]
  const value = noise(seed + 511)
  for (let i = 0; i < n; i++) {
    const half = spots[i][2]
    const s = i * step
    const end = Math.max(0, Math.min(s, length - s))
    // points taper over their length, blunt ends are round; no longer than half the stroke
    const reach = Math.min(Math.max(0.6, 2 * pointed) * half, length / 2) || 1
    const f = Math.min(1, end / reach)
    share[i] = (1 - (1 - f) ** 2) ** (pointed > 0 ? 0.7 : 0.5)
    const wide = half * size(i / (n - 1)) * share[i]
    const rough = (side: number) => 1 + uneven * (0.6 * value(s / (0.7 * half + 1e-9), side, 0) + 0.4 * value((3 * s) / (0.7 * half + 1e-9), side, 9))
    left[i] = wide * rough(2.5)
    right[i] = wide * rough(7.5)
    if (i === 0 || i === n - 1) continue
    // where it bends, the inner side must not reach the middle of the bend
    const [a, b] = [ways[i - 1], ways[i + 1]]
    const turn = Math.atan2(a[0] * b[1] - a[1] * b[0], a[0] * b[0] + a[1] * b[1]) / (2 * step)
    const most = INSIDE / Math.max(1e-9, Math.abs(turn))
    const inner = turn > 0 ? left : right
    inner[i] = Math.min(inner[i], most)
  }
  // narrow places open out gradually
  for (const half of [left, right]) {
    for (let i = 1; i < n; i++) half[i] = Math.min(half[i], half[i - 1] + 0.9 * step + (i < 3 ? half[i] : 0))
    for (let i = n - 2; i >= 0; i--) half[i] = Math.min(half[i], half[i + 1] + 0.9 * step + (i > n - 4 ? half[i] : 0))
  }
  return { left, right, share }
}
