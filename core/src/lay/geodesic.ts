import type { Point } from '../check/rays'
import { dot, nextOf, previousOf, type Surface, unit } from './surface'

/** Triangles laid flat: of half-edge h, its start at the origin and its end at (length, 0); the third corner is at (x, y), y above nought. */
export interface Flat {
  length: number
  x: number
  y: number
}

/** A piece of a line on a surface, within one triangle laid flat along half-edge h: from (x, y) along the unit vector (dx, dy), u from u0 to u1 mm. */
export interface Stretch {
  readonly h: number
  readonly x: number
  readonly y: number
  readonly dx: number
  readonly dy: number
  readonly u0: number
  readonly u1: number
}

/** A line over a surface through a place where u is nought, its stretches in order. */
export interface Line {
  readonly stretches: readonly Stretch[]
  /** how far it comes before the surface ends, mm back and forth; as far as asked where it does not */
  readonly back: number
  readonly forth: number
}

const TINY = 1e-300

/** Lays a half-edge's triangle flat. */
export function layFlat({ positions: p, indices }: Surface, h: number, into: Flat): Flat {
  const [a, b, c] = [3 * indices[h], 3 * indices[nextOf(h)], 3 * indices[previousOf(h)]]
  const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]]
  const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]]
  into.length = Math.sqrt(ux * ux + uy * uy + uz * uz) || TINY
  into.x = (ux * vx + uy * vy + uz * vz) / into.length
  into.y = Math.sqrt(Math.max(0, vx * vx + vy * vy + vz * vz - into.x * into.x)) || TINY
  return into
}

/** The axes of a half-edge's flat triangle in space. */
export function flatAxes({ positions: p, indices }: Surface, h: number): readonly [Point, Point] {
  const [a, b, c] = [3 * indices[h], 3 * indices[nextOf(h)], 3 * indices[previousOf(h)]]
  const ex = unit([p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]])
  const v: Point = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]]
  const d = dot(v, ex)
  return [ex, unit([v[0] - d * ex[0], v[1] - d * ex[1], v[2] - d * ex[2]])]
}

interface Heading {
  h: number
  x: number
  y: number
  dx: number
  dy: number
}

/** Nearer to a corner than this, in shares of a side, a line goes through it: else it would bend round the corner to one side. */
const AT_CORNER = 1e-3

/** Where a place of a triangle lies in it laid flat, and how a direction of space heads there; from a corner into the triangle it points at. */
function headingAt(surface: Surface, triangle: number, weights: readonly number[], along: Point): Heading {
  const corner = weights.findIndex((w) => w > 1 - AT_CORNER)
  const flat: Flat = { length: 0, x: 0, y: 0 }
  if (corner >= 0) {
    let best: Heading | undefined
    let most = -Infinity
    const { opposite } = surface
    const first = 3 * triangle + corner
    for (let g = first, i = 0; i < 10_000; i++) {
      layFlat(surface, g, flat)
      const [dx, dy] = directionIn(surface, g, along)
      // how far inside of both sides it points
      const inside = Math.min(dy, dx * flat.y - dy * flat.x)
      if (inside > most) {
        most = inside
        best = { h: g, x: 0, y: 0, dx, dy: Math.max(dy, 0) }
      }
      g = opposite[previousOf(g)]
      if (g < 0 || g === first) break
    }
    if (best) return best
  }
  const h = 3 * triangle
  layFlat(surface, h, flat)
  const [dx, dy] = directionIn(surface, h, along)
  return { h, x: weights[1] * flat.length + weights[2] * flat.x, y: weights[2] * flat.y, dx, dy }
}

/** A direction of space in a half-edge's flat triangle, one long. */
function directionIn(surface: Surface, h: number, along: Point): readonly [number, number] {
  const [ex, ey] = flatAxes(surface, h)
  const [dx, dy] = [dot(along, ex), dot(along, ey)]
  const l = Math.hypot(dx, dy) || 1
  return [dx / l, dy / l]
}

const MOST_STEPS = 400_000

/**
 * As straight as it can from a heading, so far (Polthier & Schmies, "Straightest geodesics on polyhedral surfaces", 1998): straight over
 * every side into the next triangle's plane; through a vertex with the same angle on both sides.
 */
function walk(surface: Surface, from: Heading, length: number): { readonly stretches: Stretch[]; readonly reached: number } {
  const { opposite } = surface
  const stretches: Stretch[] = []
  const flat: Flat = { length: 0, x: 0, y: 0 }
  let { h, x, y, dx, dy } = from
  let u = 0
  let inside = true
  let fromCorner = from.x === 0 && from.y === 0
  for (let guard = 0; guard < MOST_STEPS && u < length; guard++) {
    const { length: l, x: cx, y: cy } = layFlat(surface, h, flat)
    // it leaves by the side whose beginning lies to its right and whose end to its left; over the side it came by it does not
    const side = dx * (cy - y) - dy * (cx - x)
    const [toA, toB] = [dy * x - dx * y, -dx * y - dy * (l - x)]
    // from a corner only the side across from it is left
    const exit = fromCorner ? 1 : inside ? (toB <= 0 && side > 0 ? 1 : side <= 0 && toA > 0 ? 2 : 0) : side > 0 ? 1 : 2
    inside = false
    fromCorner = false
    const [ax, ay] = exit === 0 ? [0, 0] : exit === 1 ? [l, 0] : [cx, cy]
    const [bx, by] = exit === 0 ? [l, 0] : exit === 1 ? [cx, cy] : [0, 0]
    const [wx, wy] = [bx - ax, by - ay]
    const turn = dx * wy - dy * wx
    const far = turn === 0 ? 0 : Math.max(0, ((ax - x) * wy - (ay - y) * wx) / turn)
    const share = turn === 0 ? 0.5 : Math.min(1, Math.max(0, ((ax - x) * dy - (ay - y) * dx) / turn))
    const end = Math.min(length, u + far)
    stretches.push({ h, x, y, dx, dy, u0: u, u1: end })
    u = end
    if (u >= length) break
    if (share < AT_CORNER || share > 1 - AT_CORNER) {
      // the half-edge of the triangle that begins at the corner, and the direction against its own
      const begins = share < AT_CORNER ? [h, nextOf(h), previousOf(h)][exit] : [nextOf(h), previousOf(h), h][exit]
      const side = begins === h ? [1, 0] : begins === nextOf(h) ? [cx - l, cy] : [-cx, -cy]
      const turned = throughVertex(surface, begins, Math.atan2(-dy, -dx) - Math.atan2(side[1], side[0]))
      if (!turned) return { stretches, reached: u }
      ;({ h, x, y, dx, dy } = turned)
      fromCorner = true
      continue
    }
    const over = opposite[exit === 0 ? h : exit === 1 ? nextOf(h) : previousOf(h)]
    if (over < 0) return { stretches, reached: u }
    const w = Math.hypot(wx, wy) || TINY
    const [nx, ny] = [-(dx * wx + dy * wy) / w, Math.max(1e-14, -(wx * dy - wy * dx) / w)]
    const norm = 1 / Math.hypot(nx, ny)
    h = over
    x = (1 - share) * w
    y = 0
    dx = nx * norm
    dy = ny * norm
  }
  return { stretches, reached: u }
}

/**
 * On through the vertex where a half-edge of the triangle one comes from begins, with half of the whole angle about it on either side; `back`
 * is the angle from that half-edge to where one comes from. Undefined at the border.
 */
function throughVertex(surface: Surface, first: number, back: number): Heading | undefined {
  const { opposite } = surface
  const flat: Flat = { length: 0, x: 0, y: 0 }
  const angle = (g: number) => (layFlat(surface, g, flat), Math.atan2(flat.y, flat.x))
  let whole = 0
  let g = first
  for (let i = 0; i < 10_000; i++) {
    whole += angle(g)
    g = opposite[previousOf(g)]
    if (g < 0) return undefined
    if (g === first) break
  }
  let want = (back < -1e-3 ? back + 2 * Math.PI : Math.max(0, back)) + whole / 2
  g = first
  for (let i = 0; i < 10_000; i++) {
    const a = angle(g)
    if (want < a) break
    want -= a
    g = opposite[previousOf(g)]
  }
  return { h: g, x: 0, y: 0, dx: Math.cos(want), dy: Math.sin(want) }
}

/** The line that goes as straight as it can both ways from a place of a triangle (weights of its corners), along a direction. */
export function straightLine(surface: Surface, triangle: number, weights: readonly number[], along: Point, back: number, forth: number): Line {
  const fore = walk(surface, headingAt(surface, triangle, weights, along), forth)
  const rear = walk(surface, headingAt(surface, triangle, weights, [-along[0], -along[1], -along[2]]), back)
  return { stretches: [...turnedRound(rear.stretches), ...fore.stretches], back: rear.reached, forth: fore.reached }
}

/** Stretches walked backwards as they lie on the line, u from below nought. */
const turnedRound = (stretches: readonly Stretch[]): Stretch[] =>
  stretches.map(({ h, x, y, dx, dy, u0, u1 }) => ({ h, x: x + dx * (u1 - u0), y: y + dy * (u1 - u0), dx: -dx, dy: -dy, u0: -u1, u1: -u0 })).reverse()

/** How far a line that starts at a corner is moved towards the middle of a triangle there, as a share of the way. */
const WITHIN = 1e-6

/** The line in which a plane through a place cuts the surface: `normal` is the plane's, `along` which way u grows. */
export function levelLine(surface: Surface, triangle: number, start: Point, normal: Point, along: Point, back: number, forth: number): Line {
  const { positions: p, indices, opposite } = surface
  let at = start
  const height = (v: number) => (p[3 * v] - at[0]) * normal[0] + (p[3 * v + 1] - at[1]) * normal[1] + (p[3 * v + 2] - at[2]) * normal[2] || 1e-12
  const crossing = (h: number): Point => {
    const [a, b] = [indices[h], indices[nextOf(h)]]
    const share = height(a) / (height(a) - height(b))
    return [0, 1, 2].map((k) => p[3 * a + k] + share * (p[3 * b + k] - p[3 * a + k])) as unknown as Point
  }
  const sides = (t: number) => [3 * t, 3 * t + 1, 3 * t + 2].filter((h) => height(indices[h]) > 0 !== height(indices[nextOf(h)]) > 0)
  // at a corner the plane may leave the triangle out: a little within it, it cannot
  if (sides(triangle).length < 2) {
    const corners = [0, 1, 2].map((c) => 3 * indices[3 * triangle + c])
    at = [0, 1, 2].map((k) => start[k] + WITHIN * ((p[corners[0] + k] + p[corners[1] + k] + p[corners[2] + k]) / 3 - start[k])) as unknown as Point
  }
  const go = (way: 1 | -1, length: number) => {
    const stretches: Stretch[] = []
    let from = at
    let u = 0
    const [one, other] = sides(triangle)
    if (one === undefined || other === undefined) return { stretches, reached: 0 }
    const ahead = (h: number) => way * dot(sub(crossing(h), at), along)
    let exit = ahead(one) > ahead(other) ? one : other
    let t = triangle
    for (let guard = 0; guard < MOST_STEPS; guard++) {
      const to = crossing(exit)
      const far = Math.hypot(...sub(to, from))
      const end = Math.min(length, u + far)
      const [ex, ey] = flatAxes(surface, 3 * t)
      const corner: Point = [p[3 * indices[3 * t]], p[3 * indices[3 * t] + 1], p[3 * indices[3 * t] + 2]]
      const [x, y] = [dot(sub(from, corner), ex), dot(sub(from, corner), ey)]
      const way2 = sub(to, from)
      if (far > 0) stretches.push({ h: 3 * t, x, y, dx: dot(way2, ex) / far, dy: dot(way2, ey) / far, u0: u, u1: end })
      u = end
      if (u >= length) break
      const over = opposite[exit]
      if (over < 0) break
      t = Math.floor(over / 3)
      const next = sides(t).find((h) => h !== over)
      if (next === undefined) break
      exit = next
      from = to
    }
    return { stretches, reached: u }
  }
  const fore = go(1, forth)
  const rear = go(-1, back)
  return { stretches: [...turnedRound(rear.stretches), ...fore.stretches], back: rear.reached, forth: fore.reached }
}

const sub = (a: Point, b: Point): [number, number, number] => [a[0] - b[0], a[1] - b[1], a[2] - b[2]]
