import { connectedParts, type Solid, vertexCount } from '../solid/solid'
import { EdgeTable } from '../check/edge-table'

/** A 1 for each triangle that looks forward, to +Z. */
export function lookingForward({ positions: p, indices }: Pick<Solid, 'positions' | 'indices'>): Uint8Array {
  const out = new Uint8Array(indices.length / 3)
  for (let t = 0; t < out.length; t++) {
    const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
    out[t] = (p[b] - p[a]) * (p[c + 1] - p[a + 1]) - (p[b + 1] - p[a + 1]) * (p[c] - p[a]) > 0 ? 1 : 0
  }
  return out
}

/**
 * The outline of a solid as it is seen from the front: the sides at which what looks forward ends, as x, y, x, y a side (mm). Of an extruded
 * letter that is the letter's own outline, whatever its edges. What ends behind something else, such as the inner skin of a hollow letter, has no part in it; of what is
 * `closed` only rings of sides that do so all round.
 */
export function seenOutline(solid: Pick<Solid, 'positions' | 'indices'>, closed = false): Float64Array {
  const { positions: p, indices } = solid
  const forward = lookingForward(solid)
  const edges = new EdgeTable(indices.length)
  const next = (h: number) => indices[h % 3 === 2 ? h - 2 : h + 1]
  for (let h = 0; h < indices.length; h++) edges.value[edges.slot(indices[h], next(h))] = (h / 3) | 0
  const ends: number[] = []
  for (let h = 0; h < indices.length; h++) {
    if (!forward[(h / 3) | 0]) continue
    const other = edges.get(next(h), indices[h], -1)
    if (other < 0 || !forward[other]) ends.push(h)
  }
  const above = triangleAbove(p, indices, forward)
  const seen = ends.map((h) => {
    const [a, b] = [3 * indices[h], 3 * next(h)]
    return !above((p[a] + p[b]) / 2, (p[a + 1] + p[b + 1]) / 2, (p[a + 2] + p[b + 2]) / 2)
  })
  // sides hang together as triangles do that are no wider than they are
  const ring = connectedParts(
    ends.flatMap((h) => [indices[h], next(h), next(h)]),
    vertexCount(solid),
  ).part
  const shown = new Set(closed ? ring.filter((_, i) => seen[i]) : [])
  const out: number[] = []
  for (const [i, h] of ends.entries()) {
    if (!seen[i] && !shown.has(ring[i])) continue
    const [a, b] = [3 * indices[h], 3 * next(h)]
    out.push(p[a], p[a + 1], p[b], p[b + 1])
  }
  return Float64Array.from(out)
}

/** Whether one of some triangles lies over a place, or its border does. */
function triangleAbove(p: Float64Array, indices: Uint32Array, some: Uint8Array): (x: number, y: number, z: number) => boolean {
  let count = 0
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity]
  for (let i = 0; i < indices.length; i++) {
    if (!some[(i / 3) | 0]) continue
    count++
    const o = 3 * indices[i]
    x0 = Math.min(x0, p[o])
    x1 = Math.max(x1, p[o])
    y0 = Math.min(y0, p[o + 1])
    y1 = Math.max(y1, p[o + 1])
  }
  const step = Math.max(Math.sqrt(((x1 - x0) * (y1 - y0)) / Math.min(count / 3 + 1, MOST_SQUARES)), Math.max(x1 - x0, y1 - y0) / 2000, 1e-6)
  const [nx, ny] = [Math.floor((x1 - x0) / step) + 1, Math.floor((y1 - y0) / step) + 1]
  const squares = squareLists(nx * ny, (then) => {
    for (let t = 0; t < some.length; t++) {
      if (!some[t]) continue
      const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
      const last = Math.floor((Math.max(p[a + 1], p[b + 1], p[c + 1]) - y0) / step)
      for (let j = Math.floor((Math.min(p[a + 1], p[b + 1], p[c + 1]) - y0) / step); j <= last; j++) {
        const right = Math.floor((Math.max(p[a], p[b], p[c]) - x0) / step)
        for (let i = Math.floor((Math.min(p[a], p[b], p[c]) - x0) / step); i <= right; i++) then(j * nx + i, t)
      }
    }
  })
  return (x, y, z) => {
    const square = Math.floor((y - y0) / step) * nx + Math.floor((x - x0) / step)
    for (let k = squares.first[square]; k < squares.first[square + 1]; k++) {
      const t = 3 * squares.list[k]
      const [a, b, c] = [3 * indices[t], 3 * indices[t + 1], 3 * indices[t + 2]]
      const area = (p[b] - p[a]) * (p[c + 1] - p[a + 1]) - (p[b + 1] - p[a + 1]) * (p[c] - p[a])
      const v = ((x - p[a]) * (p[c + 1] - p[a + 1]) - (y - p[a + 1]) * (p[c] - p[a])) / area
      const w = ((p[b] - p[a]) * (y - p[a + 1]) - (p[b + 1] - p[a + 1]) * (x - p[a])) / area
      if (v < -BESIDE || w < -BESIDE || v + w > 1 + BESIDE) continue
      if ((1 - v - w) * p[a + 2] + v * p[b + 2] + w * p[c + 2] > z + 1e-6) return true
    }
    return false
  }
}

/** So much beside a triangle, of its size, is still over it: what ends right below a border is seen there all the same. */
const BESIDE = 1e-7

/** What lies in each of so many squares, one list behind another: `visit` tells twice of each square and what is in it. */
function squareLists(
  squares: number,
  visit: (then: (square: number, one: number) => void) => void,
): { readonly first: Uint32Array; readonly list: Uint32Array } {
  const first = new Uint32Array(squares + 1)
  visit((square) => first[square + 1]++)
  for (let i = 0; i < squares; i++) first[i + 1] += first[i]
  const list = new Uint32Array(first[squares])
  const next = first.slice()
  visit((square, one) => (list[next[square]++] = one))
  return { first, list }
}

/** Most squares of the grid that sides are looked up in. */
const MOST_SQUARES = 262_144

/**
 * The exact distance, mm, from places in the plane to the nearest of some sides (x, y, x, y each), looked up ring by ring in a grid; what is further than
 * `most` is Infinity.
 */
export function distanceTo(sides: Float64Array, most = Infinity): (x: number, y: number) => number {
  const { distance } = nearestOf(sides, most)
  return distance
}

export interface NearestOf {
  /** mm to the nearest side; what is further than the most is Infinity */
  distance(x: number, y: number): number
  /** from the place last asked about to the nearest one on a side, mm: x, y. Holds until another is asked about; nought where there is none */
  readonly way: Float64Array
}

/** The same with where the nearest place is. */
export function nearestOf(sides: Float64Array, most = Infinity): NearestOf {
  const count = sides.length / 4
  const way = new Float64Array(2)
  if (count === 0) return { distance: () => Infinity, way }
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity]
  let total = 0
  for (let i = 0; i < sides.length; i += 2) {
    x0 = Math.min(x0, sides[i])
    x1 = Math.max(x1, sides[i])
    y0 = Math.min(y0, sides[i + 1])
    y1 = Math.max(y1, sides[i + 1])
  }
  for (let s = 0; s < count; s++) total += Math.hypot(sides[4 * s + 2] - sides[4 * s], sides[4 * s + 3] - sides[4 * s + 1])
  const area = (x1 - x0 + 1e-9) * (y1 - y0 + 1e-9)
  // about as wide as places are apart from the sides: half of what area there is to a side's length
  const step = Math.max(area / (2 * total + 1e-9), Math.sqrt(area / MOST_SQUARES), Math.max(x1 - x0, y1 - y0) / 2000, 1e-6)
  const [nx, ny] = [Math.max(1, Math.ceil((x1 - x0) / step)), Math.max(1, Math.ceil((y1 - y0) / step))]
  const column = (x: number) => Math.min(nx - 1, Math.max(0, Math.floor((x - x0) / step)))
  const row = (y: number) => Math.min(ny - 1, Math.max(0, Math.floor((y - y0) / step)))
  // the sides in each square
  const { first, list } = squareLists(nx * ny, (then) => {
    for (let s = 0; s < count; s++) {
      const [ax, ay, bx, by] = [sides[4 * s], sides[4 * s + 1], sides[4 * s + 2], sides[4 * s + 3]]
      for (let j = row(Math.min(ay, by)); j <= row(Math.max(ay, by)); j++)
        for (let i = column(Math.min(ax, bx)); i <= column(Math.max(ax, bx)); i++) then(j * nx + i, s)
    }
  })

  const nearestIn = (square: number, x: number, y: number, best: number): number => {
    let least = best
    for (let k = first[square]; k < first[square + 1]; k++) {
      const o = 4 * list[k]
      const ax = sides[o]
      const ay = sides[o + 1]
      const dx = sides[o + 2] - ax
      const dy = sides[o + 3] - ay
      const size = dx * dx + dy * dy
      let f = size > 0 ? ((x - ax) * dx + (y - ay) * dy) / size : 0
      f = f < 0 ? 0 : f > 1 ? 1 : f
      const u = ax + f * dx - x
      const v = ay + f * dy - y
      const d = u * u + v * v
      if (d < least) {
        least = d
        way[0] = u
        way[1] = v
      }
    }
    return least
  }
  const rings = Math.max(nx, ny)
  const distance = (x: number, y: number): number => {
    way[0] = way[1] = 0
    const i = column(x)
    const j = row(y)
    let best = most * most
    for (let ring = 0; ring <= rings; ring++) {
      const [i0, i1, j0, j1] = [Math.max(0, i - ring), Math.min(nx - 1, i + ring), Math.max(0, j - ring), Math.min(ny - 1, j + ring)]
      for (let v = j0; v <= j1; v++) {
        if (v === j - ring || v === j + ring) for (let u = i0; u <= i1; u++) best = nearestIn(v * nx + u, x, y, best)
        else {
          if (i - ring >= 0) best = nearestIn(v * nx + i - ring, x, y, best)
          if (i + ring < nx) best = nearestIn(v * nx + i + ring, x, y, best)
        }
      }
      // what lies in squares further out is at least a ring's width away from the place's own square
      if (best <= (ring * step) ** 2) break
    }
    return best < most * most ? Math.sqrt(best) : Infinity
  }
  return { distance, way }
}
