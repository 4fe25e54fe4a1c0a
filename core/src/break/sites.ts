import { randomShares } from '../cache/random'
import type { Samples } from './samples'
import { PATTERNS } from './patterns'
import { upTo } from '../solid/vertex-table'

export type Pattern = (typeof PATTERNS)[number]

/** How something is to be broken. */
export interface Cracks {
  readonly pattern: Exclude<Pattern, 'letter'>
  /** so many cells at least hold some of it */
  readonly pieces: number
  readonly seed: number
  /** where a blow falls, what glass breaks about, or where a line runs through, mm */
  readonly spot: readonly [number, number, number]
  /** how far a blow reaches, mm */
  readonly reach: number
  /** of a line and of grain: the direction in the face's plane, degrees */
  readonly angle: number
  /** how many times as long as thick splinters are */
  readonly long: number
}

/** Sites of cells: each place belongs to the site that is nearest to it once space is stretched. */
export interface Sites {
  /** x, y, z each, mm */
  readonly at: Float64Array
  /** rows of the 3 × 3 matrix from mm to the stretched space */
  readonly space: readonly number[]
}

/** Bricks in courses: boxes that go through the whole depth. */
export interface Courses {
  readonly high: number
  readonly wide: number
  readonly x: number
  readonly y: number
}

const PLAIN = [1, 0, 0, 0, 1, 0, 0, 0, 1]

/** Places that even sites are drawn from, for each of them, and rounds in which they are evened. */
export const PLACES_EACH = 24

const ROUNDS = 6

/**
 * Sites by volume, by nearness to a spot or a line, along a grain, or about a spot as glass breaks; every site that is drawn from places stands inside, so that there are at
 * least as many pieces as sites. Even sites are k-means of the places (Lloyd, "Least squares quantization in PCM", 1982), each at the place nearest to its mean.
 */
export function sitesOf({ places }: Samples, cracks: Cracks, box: readonly number[]): Sites {
  if (cracks.pattern === 'glass') return glass(places, cracks, box)
  const space = cracks.pattern === 'grain' ? grainSpace(cracks) : PLAIN
  const inSpace = mapped(places, space)
  const weight = weightOf(places, cracks)
  const drawn = drawWeighted(weight, Math.min(cracks.pieces, inSpace.length / 3), cracks.seed)
  const even = cracks.pattern === 'even' || cracks.pattern === 'grain'
  const chosen = evened(drawn, inSpace, even ? ROUNDS : 1, even ? undefined : weight)
  const at = new Float64Array(3 * chosen.length)
  chosen.forEach((place, i) => at.set(places.subarray(3 * place, 3 * place + 3), 3 * i))
  return { at, space }
}

/** Rows that turn the grain's direction to x and shorten it there. */
function grainSpace({ angle, long }: Cracks): number[] {
  const [c, s] = [Math.cos((angle * Math.PI) / 180), Math.sin((angle * Math.PI) / 180)]
  return [c / long, s / long, 0, -s, c, 0, 0, 0, 1]
}

/** Places through a 3 × 3 matrix. */
export function mapped(places: ArrayLike<number>, [a, b, c, d, e, f, g, h, i]: readonly number[]): Float64Array {
  const out = new Float64Array(places.length)
  for (let o = 0; o < places.length; o += 3) {
    const [x, y, z] = [places[o], places[o + 1], places[o + 2]]
    out[o] = a * x + b * y + c * z
    out[o + 1] = d * x + e * y + f * z
    out[o + 2] = g * x + h * y + i * z
  }
  return out
}

/** How likely each place is to get a site: all alike, or less with its distance from the spot or the line. */
function weightOf(places: Float64Array, { pattern, spot, angle, reach }: Cracks): Float64Array {
  const count = places.length / 3
  const weight = new Float64Array(count).fill(1)
  if (pattern === 'even' || pattern === 'grain') return weight
  const [ax, ay] = pattern === 'line' ? [Math.cos((angle * Math.PI) / 180), Math.sin((angle * Math.PI) / 180)] : [0, 0]
  for (let i = 0; i < count; i++) {
    const [x, y, z] = [0, 1, 2].map((k) => places[3 * i + k] - spot[k])
    const t = x * ax + y * ay
    const far = ((x - t * ax) ** 2 + (y - t * ay) ** 2 + z ** 2) / reach ** 2
    // a blow loses its force slowly, a cluster ends
    weight[i] = pattern === 'impact' ? 1 / (1 + far) ** 1.5 : 1 / (1 + far * far) ** 2 + 0.002
  }
  return weight
}

/** Numbers drawn by weight without putting back (Efraimidis & Spirakis, "Weighted random sampling with a reservoir", 2006). */
function drawWeighted(weight: Float64Array, count: number, seed: number): Uint32Array {
  const next = randomShares(seed ^ 0x68e31da4)
  const key = Float64Array.from(weight, (w) => Math.log(next() + 1e-12) / w)
  return Uint32Array.from([...key.keys()].sort((a, b) => key[b] - key[a] || a - b).slice(0, count))
}

/** Places, by their numbers, moved to the middles of what is nearest to them, and to the places nearest to those. */
function evened(chosen: Uint32Array, places: Float64Array, rounds: number, weight?: Float64Array): Uint32Array {
  const sites = chosen.length
  let now = chosen
  let of: Uint32Array | undefined
  for (let round = 0; round < rounds; round++) {
    const sums = new Float64Array(4 * sites)
    const at = new Float64Array(3 * sites)
    now.forEach((place, s) => at.set(places.subarray(3 * place, 3 * place + 3), 3 * s))
    of = nearestSites(at, places, of)
    for (let i = 0; i < of.length; i++) {
      const w = weight?.[i] ?? 1
      for (let k = 0; k < 3; k++) sums[4 * of[i] + k] += w * places[3 * i + k]
      sums[4 * of[i] + 3] += w
    }
    const next = now.slice()
    const best = new Float64Array(sites).fill(Infinity)
    for (let i = 0; i < of.length; i++) {
      const s = of[i]
      let far = 0
      for (let k = 0; k < 3; k++) far += (places[3 * i + k] - sums[4 * s + k] / sums[4 * s + 3]) ** 2
      if (far < best[s]) [best[s], next[s]] = [far, i]
    }
    now = next
  }
  return now
}

/** The site nearest to each place; quicker where one that is near is known of each. */
function nearestSites(at: Float64Array, places: Float64Array, near?: Uint32Array): Uint32Array {
  const sites = at.length / 3
  const of = new Uint32Array(places.length / 3)
  // sites in the order of x: those too far along x are not looked at
  const order = upTo(sites).sort((a, b) => at[3 * a] - at[3 * b])
  const xs = Float64Array.from(order, (s) => at[3 * s])
  const ys = Float64Array.from(order, (s) => at[3 * s + 1])
  const zs = Float64Array.from(order, (s) => at[3 * s + 2])
  for (let i = 0; i < of.length; i++) {
    const x = places[3 * i]
    const y = places[3 * i + 1]
    const z = places[3 * i + 2]
    let low = 0
    let high = sites
    while (low < high) {
      const middle = (low + high) >> 1
      if (xs[middle] < x) low = middle + 1
      else high = middle
    }
    let best = Infinity
    let found = 0
    if (near) {
      found = near[i]
      best = (at[3 * found] - x) ** 2 + (at[3 * found + 1] - y) ** 2 + (at[3 * found + 2] - z) ** 2
    }
    // to the left, and to the right, as long as one may be nearer
    for (let way = -1; way <= 1; way += 2)
      for (let k = way < 0 ? low - 1 : low; k >= 0 && k < sites; k += way) {
        const dx = xs[k] - x
        if (dx * dx > best) break
        const far = dx * dx + (ys[k] - y) ** 2 + (zs[k] - z) ** 2
        if (far > best || (far === best && order[k] >= found)) continue
        best = far
        found = order[k]
      }
    of[i] = found
  }
  return of
}

/** How many sites have a place. */
const inhabited = (of: ArrayLike<number>): number => new Set(Array.from(of)).size

/** Rings of sites about a spot in sectors that go through all rings: cracks that run away from it and others across; as many as it takes. */
function glass(places: Float64Array, { pieces, seed, spot }: Cracks, box: readonly number[]): Sites {
  const far = Math.max(1e-3, ...[0, 3].flatMap((i) => [1, 4].map((j) => Math.hypot(box[i] - spot[0], box[j] - spot[1]))))
  const z = (box[2] + box[5]) / 2
  const flat = Float64Array.from(places, (v, i) => (i % 3 === 2 ? z : v))
  let made = new Float64Array()
  for (let rings = 1; rings <= 80; rings++) {
    const next = randomShares((seed ^ 0x2545f491) + rings)
    const sectors = Math.round(4 + 2.2 * rings)
    const turned = Float64Array.from({ length: sectors }, () => (next() - 0.5) * 0.5)
    const start = next()
    const at: number[] = []
    for (let ring = 0; ring < rings; ring++)
      for (let sector = 0; sector < sectors; sector++) {
        const radius = far * ((ring + 0.5 + 0.35 * (next() - 0.5)) / rings) ** 1.6
        const angle = (2 * Math.PI * (sector + start + turned[sector] + 0.06 * (next() - 0.5))) / sectors
        at.push(spot[0] + radius * Math.cos(angle), spot[1] + radius * Math.sin(angle), z)
      }
    made = Float64Array.from(at)
    if (inhabited(nearestSites(made, flat)) >= pieces) break
  }
  return { at: made, space: PLAIN }
}

/** Courses of bricks, twice as wide as high, each laid over the joints of the one below; as small as it takes. */
export function coursesOf({ places }: Samples, { pieces, seed }: Cracks, box: readonly number[]): Courses {
  const next = randomShares(seed ^ 0x1b873593)
  const [sx, sy] = [next(), next()]
  let high = Math.max(box[4] - box[1], (box[3] - box[0]) / 2)
  for (let round = 0; round < 60; round++) {
    const courses: Courses = { high, wide: 2 * high, x: box[0] - sx * 2 * high, y: box[1] - sy * high }
    const of = new Set<string>()
    for (let i = 0; i < places.length; i += 3) of.add(brickAt(courses, places[i], places[i + 1]).join())
    if (of.size >= pieces) return courses
    high *= 0.93
  }
  return { high, wide: 2 * high, x: box[0] - sx * 2 * high, y: box[1] - sy * high }
}

/** The course and the brick in it at a place. */
export function brickAt({ high, wide, x: x0, y: y0 }: Courses, x: number, y: number): [number, number] {
  const course = Math.floor((y - y0) / high)
  return [course, Math.floor((x - x0) / wide + (course & 1) / 2)]
}
