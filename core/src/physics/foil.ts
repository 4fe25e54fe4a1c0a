import { snap } from '../outline/lattice'
import { doubleArea } from '../outline/polygon'
import { constrainedTriangles } from '../solid/delaunay'
import { innerPoints } from '../solid/even-caps'

/** Two sheets of one shape that share their border: a closed, flat envelope. */
export interface Foil {
  /** x, y, z of its corners, mm: the border first, then the front sheet's inner ones, then the back's */
  readonly points: Float64Array
  /** three corners a triangle, outward counter-clockwise: the front sheet's first, then as many of the back */
  readonly triangles: Uint32Array
  /** corners on the border */
  readonly border: number
}

/** A border that turns by more than this has a corner there, degrees. */
const CORNER = 25
/** The sheets lie so far off the middle within their border, shares of the side of a triangle: apart, and flat. */
const GAP = 0.06

/**
 * An envelope of triangles with sides of about `edge` mm, its border divided evenly between its corners. `rings`: closed, x and y, outer ones counter-clockwise, holes clockwise, on the lattice. Undefined where
 * the shape cannot be divided so.
 */
export function foilOf(rings: readonly ArrayLike<number>[], edge: number, lattice: number): Foil | undefined {
  const [x, y]: [number[], number[]] = [[], []]
  const loops: number[][] = []
  for (const ring of rings) {
    const even = evenRing(ring, edge, lattice)
    if (even.length < 6) continue
    loops.push(Array.from({ length: even.length / 2 }, (_, i) => x.length + i))
    for (let i = 0; i < even.length; i += 2) {
      x.push(even[i])
      y.push(even[i + 1])
    }
  }
  const border = x.length
  if (border === 0) return undefined
  const inner = innerPoints(loops, x, y, edge, 'triangles', lattice)
  for (let i = 0; i < inner.length; i += 2) {
    x.push(inner[i])
    y.push(inner[i + 1])
  }
  const flat = constrainedTriangles(loops, [...x.keys()], x, y)
  if (!flat) return undefined
  const triangles = withoutChords(flat, loops, border, x, y)
  const count = x.length
  const twin = (v: number) => (v < border ? v : v + count - border)
  const points = new Float64Array(3 * (2 * count - border))
  const gap = Math.max(lattice, snap(GAP * edge, lattice))
  for (let v = 0; v < count; v++) {
    points.set([x[v], y[v], v < border ? 0 : gap], 3 * v)
    if (v >= border) points.set([x[v], y[v], -gap], 3 * twin(v))
  }
  const all = new Uint32Array(2 * triangles.length)
  all.set(triangles)
  for (let i = 0; i < triangles.length; i += 3) all.set([twin(triangles[i]), twin(triangles[i + 2]), twin(triangles[i + 1])], triangles.length + i)
  return { points, triangles: all, border }
}

/** A ring with its corners kept, and points evenly between them. */
function evenRing(ring: ArrayLike<number>, edge: number, lattice: number): number[] {
  const n = ring.length / 2
  const at = (i: number) => [ring[2 * (((i % n) + n) % n)], ring[2 * (((i % n) + n) % n) + 1]] as const
  const corners: number[] = []
  const limit = Math.cos((CORNER * Math.PI) / 180)
  for (let i = 0; i < n; i++) {
    const [p, q, r] = [at(i - 1), at(i), at(i + 1)]
    const [ux, uy, vx, vy] = [q[0] - p[0], q[1] - p[1], r[0] - q[0], r[1] - q[1]]
    if (ux * vx + uy * vy < limit * Math.sqrt((ux * ux + uy * uy) * (vx * vx + vy * vy))) corners.push(i)
  }
  if (corners.length === 0) corners.push(0)
  const out: number[] = []
  corners.forEach((from, c) => {
    const to = c + 1 < corners.length ? corners[c + 1] : corners[0] + n
    const lengths = [0]
    for (let i = from; i < to; i++) {
      const [p, q] = [at(i), at(i + 1)]
      lengths.push(lengths[lengths.length - 1] + Math.sqrt((q[0] - p[0]) ** 2 + (q[1] - p[1]) ** 2))
    }
    const whole = lengths[lengths.length - 1]
    // a ring is at least a triangle
    const parts = Math.max(corners.length === 1 ? 3 : corners.length === 2 ? 2 : 1, Math.round(whole / edge))
    let i = 0
    for (let k = 0; k < parts; k++) {
      const s = (whole * k) / parts
      while (i + 2 < lengths.length && lengths[i + 1] < s) i++
      const t = (s - lengths[i]) / (lengths[i + 1] - lengths[i] || 1)
      const [p, q] = [at(from + i), at(from + i + 1)]
      out.push(snap(p[0] + t * (q[0] - p[0]), lattice), snap(p[1] + t * (q[1] - p[1]), lattice))
    }
  })
  return doubleArea(out) === 0 ? [] : out
}

/** Lines across a stroke from border to border would join both sheets: each gets a point in its middle. Adds those to x and y. */
function withoutChords(triangles: readonly number[], loops: readonly (readonly number[])[], border: number, x: number[], y: number[]): Uint32Array {
  const key = (a: number, b: number) => Math.min(a, b) * 0x4000000 + Math.max(a, b)
  const sides = new Set(loops.flatMap((loop) => loop.map((v, i) => key(v, loop[(i + 1) % loop.length]))))
  const middles = new Map<number, number>()
  const middle = (a: number, b: number): number => {
    if (a >= border || b >= border || sides.has(key(a, b))) return -1
    const known = middles.get(key(a, b))
    if (known !== undefined) return known
    const made = x.push((x[a] + x[b]) / 2) - 1
    y.push((y[a] + y[b]) / 2)
    middles.set(key(a, b), made)
    return made
  }
  const out: number[] = []
  for (let i = 0; i < triangles.length; i += 3) {
    let [a, b, c] = triangles.slice(i, i + 3)
    let [ab, bc, ca] = [middle(a, b), middle(b, c), middle(c, a)]
    const cut = [ab, bc, ca].filter((m) => m >= 0).length
    if (cut === 0) out.push(a, b, c)
    else if (cut === 3) out.push(a, ab, ca, ab, b, bc, bc, c, ca, ab, bc, ca)
    else {
      // turned so that side ab is cut, and ca is not
      while (ab < 0 || ca >= 0) [a, b, c, ab, bc, ca] = [b, c, a, bc, ca, ab]
      if (bc < 0) out.push(a, ab, c, ab, b, c)
      else out.push(ab, b, bc, a, ab, bc, a, bc, c)
    }
  }
  return Uint32Array.from(out)
}
