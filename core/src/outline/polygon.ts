import { manifold, type SimplePolygon, withScope } from '../kernel/manifold'
import { sidesOfRings, visitMeetingSides } from '../kernel/sides'
import { type Flat, flattenPath, TangentIndex } from './flatten'
import { latticeKey, snap } from './lattice'
import type { Member, Region } from './outline'
import type { Path } from './path'

/**
 * A clean polygon set: rings that neither cross nor touch themselves or each other, outer rings counter-clockwise and
 * holes clockwise seen from +Z (the interior lies to the left of travel), all points on the lattice.
 */
export interface PolygonSet {
  readonly rings: readonly Flat[]
  readonly lattice: number
}

/** Twice the signed area of a ring of x, y pairs; positive when counter-clockwise. */
export function doubleArea(xy: ArrayLike<number>): number {
  let sum = 0
  const n = xy.length
  for (let i = 0, j = n - 2; i < n; j = i, i += 2) sum += xy[j] * xy[i + 1] - xy[i] * xy[j + 1]
  return sum
}

/** Area of the set in mm². */
export function polygonArea(set: PolygonSet): number {
  return set.rings.reduce((sum, ring) => sum + doubleArea(ring.xy) / 2, 0)
}

/** Winding number of the rings around (x, y); on the boundary either side may be taken. */
export function winding(rings: readonly { readonly xy: ArrayLike<number> }[], x: number, y: number): number {
  let w = 0
  for (const { xy } of rings) {
    const n = xy.length
    for (let i = 0, j = n - 2; i < n; j = i, i += 2) {
      const y0 = xy[j + 1]
      const y1 = xy[i + 1]
      if (y0 <= y === y1 <= y) continue
      const side = (xy[i] - xy[j]) * (y - y0) - (x - xy[j]) * (y1 - y0)
      if (y1 > y0 ? side > 0 : side < 0) w += y1 > y0 ? 1 : -1
    }
  }
  return w
}

export const toPairs = (xy: ArrayLike<number>): SimplePolygon => {
  const out: SimplePolygon = []
  for (let i = 0; i < xy.length; i += 2) out.push([xy[i], xy[i + 1]])
  return out
}

/** Flattens the paths of one member; contours are turned so that the member's outer rings run counter-clockwise. */
export function flattenMember(member: Member, tolerance: number, lattice: number): Flat[] {
  const flats = member.paths
    .filter((path) => path.closed)
    .map((path) => flattenPath(path, { tolerance, lattice }))
    .filter((flat) => flat.xy.length >= 6)
  const total = flats.reduce((sum, flat) => sum + doubleArea(flat.xy), 0)
  return total < 0 ? flats.map(reverseFlat) : flats
}

function reverseFlat(flat: Flat): Flat {
  const n = flat.xy.length / 2
  const xy = new Float64Array(2 * n)
  const tangents = new Float64Array(4 * n)
  for (let i = 0; i < n; i++) {
    const j = n - 1 - i
    xy[2 * i] = flat.xy[2 * j]
    xy[2 * i + 1] = flat.xy[2 * j + 1]
    const t = flat.tangents.subarray(4 * j, 4 * j + 4)
    tangents.set([-t[2], -t[3], -t[0], -t[1]], 4 * i)
  }
  return { xy, tangents, closed: flat.closed }
}

/** Rings smaller than this in mm² are dust left by clipping. */
const DUST = 1e-4
/** Neighbouring points nearer than this many lattice steps are made one. */
const MIN_STEPS = 24

/**
 * The area of a region as a clean polygon set: members flattened, united by the non-zero rule, rounded to the lattice
 * until nothing crosses, points nearer than the eye can tell made one, touching corners drawn apart.
 * Needs the manifold kernel loaded.
 */
export function regionPolygons(region: Pick<Region, 'members'>, tolerance: number, lattice: number): PolygonSet {
  const flats = region.members.flatMap((member) => flattenMember(member, tolerance, lattice))
  return cleanPolygons(flats, lattice)
}

/** As `regionPolygons`, from closed paths that are no letters. */
export function pathPolygons(paths: readonly Path[], tolerance: number, lattice: number): PolygonSet {
  return regionPolygons({ members: [{ letter: -1, paths }] }, tolerance, lattice)
}

/** Unites flattened contours (non-zero) into a clean polygon set on the lattice; tangents are carried over. */
export function cleanPolygons(flats: readonly Flat[], lattice: number): PolygonSet {
  const index = new TangentIndex(lattice)
  for (const flat of flats) index.add(flat)
  let rings: number[][] = flats.filter((flat) => flat.xy.length >= 6).map((flat) => Array.from(flat.xy))
  // rounding and thinning can make new crossings: repeat until the clipper finds nothing to do (mostly at once)
  for (let pass = 0; pass < 6; pass++) {
    const united = unite(rings, pass === 0 ? 'NonZero' : 'Positive', lattice)
    if (pass > 0 && sameRings(united, rings)) break
    rings = united.map((ring) => thin(ring, lattice)).filter((ring) => Math.abs(doubleArea(ring)) / 2 > DUST)
  }
  // slivers thinner than the lattice can resolve, of the shape or of what is between, never settle: open and close it by a hair until it is simple
  let apart = separateTouching(rings, lattice)
  for (let hair = 0.004; hair < 0.05 && !areSimple(apart); hair *= 2)
    for (const by of [hair, -hair]) {
      if (areSimple(apart)) break
      rings = open(rings, by, lattice)
      apart = separateTouching(rings, lattice)
    }
  rings = apart
  return { rings: rings.map((ring) => withTangents(ring, index)), lattice }
}

/**
 * The set with sides longer than `longest` mm cut into equal parts, on the lattice; the set itself where that would make rings
 * touch. New points take the side's own direction.
 */
export function divideRings(set: PolygonSet, longest: number): PolygonSet {
  const { lattice } = set
  const rings = set.rings.map(({ xy, tangents, closed }): Flat => {
    const points: number[] = []
    const directions: number[] = []
    const n = xy.length / 2
    for (let i = 0; i < n; i++) {
      const j = (i + 1) % n
      points.push(xy[2 * i], xy[2 * i + 1])
      directions.push(...tangents.subarray(4 * i, 4 * i + 4))
      const [dx, dy] = [xy[2 * j] - xy[2 * i], xy[2 * j + 1] - xy[2 * i + 1]]
      const length = Math.hypot(dx, dy)
      const parts = Math.ceil(length / longest - 1e-9)
      for (let k = 1; k < parts; k++) {
        points.push(snap(xy[2 * i] + (dx * k) / parts, lattice), snap(xy[2 * i + 1] + (dy * k) / parts, lattice))
        directions.push(dx / length, dy / length, dx / length, dy / length)
      }
    }
    return { xy: Float64Array.from(points), tangents: Float64Array.from(directions), closed }
  })
  return areSimple(rings.map((ring) => ring.xy)) ? { rings, lattice } : set
}

function unite(rings: number[][], rule: 'NonZero' | 'Positive', lattice: number): number[][] {
  if (rings.length === 0) return []
  const { CrossSection } = manifold()
  return withScope((own) => {
    const section = own(new CrossSection(rings.map(toPairs), rule))
    return section.toPolygons().map((ring) => ring.flatMap(([x, y]) => [snap(x, lattice), snap(y, lattice)]))
  })
}

/** Shrinks and grows back by `distance` mm: what is thinner than twice that vanishes, the rest returns to its place. Below zero the other way about: gaps vanish. */
function open(rings: number[][], distance: number, lattice: number): number[][] {
  const { CrossSection } = manifold()
  return withScope((own) => {
    const section = own(new CrossSection(rings.map(toPairs), 'Positive'))
    const grown = own(own(section.offset(-distance, 'Miter', 3)).offset(distance, 'Miter', 3))
    const out = grown.toPolygons().map((ring) => ring.flatMap(([x, y]) => [snap(x, lattice), snap(y, lattice)]))
    return out.map((ring) => thin(ring, lattice)).filter((ring) => Math.abs(doubleArea(ring)) / 2 > DUST)
  })
}

/** Whether no two sides cross and no corner lies on another side; corners may coincide. Exact on the lattice. May throw TooMuchWork. */
export function areSimple(rings: readonly ArrayLike<number>[]): boolean {
  const sides = sidesOfRings(rings)
  const turn = (i: number, x: number, y: number) =>
    Math.sign((sides[4 * i + 2] - sides[4 * i]) * (y - sides[4 * i + 1]) - (sides[4 * i + 3] - sides[4 * i + 1]) * (x - sides[4 * i]))
  const strictlyWithin = (i: number, x: number, y: number) =>
    turn(i, x, y) === 0 && (x - sides[4 * i]) * (x - sides[4 * i + 2]) + (y - sides[4 * i + 1]) * (y - sides[4 * i + 3]) < 0
  return visitMeetingSides(sides, (i, j) => {
    const [x0, y0, x1, y1] = [sides[4 * i], sides[4 * i + 1], sides[4 * i + 2], sides[4 * i + 3]]
    const [u0, v0, u1, v1] = [sides[4 * j], sides[4 * j + 1], sides[4 * j + 2], sides[4 * j + 3]]
    if (turn(i, u0, v0) * turn(i, u1, v1) < 0 && turn(j, x0, y0) * turn(j, x1, y1) < 0) return false
    if (strictlyWithin(i, u0, v0) || strictlyWithin(i, u1, v1) || strictlyWithin(j, x0, y0) || strictlyWithin(j, x1, y1)) return false
    return !((x0 === u0 && y0 === v0 && x1 === u1 && y1 === v1) || (x0 === u1 && y0 === v1 && x1 === u0 && y1 === v0))
  })
}

function sameRings(a: number[][], b: number[][]): boolean {
  const points = (rings: number[][]) => rings.reduce((sum, ring) => sum + ring.length, 0)
  const area = (rings: number[][]) => rings.reduce((sum, ring) => sum + doubleArea(ring), 0)
  return a.length === b.length && points(a) === points(b) && Math.abs(area(a) - area(b)) < 1e-9
}

/** Drops points that coincide with, or lie within a hair of, their predecessor, and spikes that turn back on themselves. */
function thin(ring: number[], lattice: number): number[] {
  const near = (MIN_STEPS * lattice) ** 2
  const out: number[] = []
  for (let i = 0; i < ring.length; i += 2) {
    const k = out.length
    if (k >= 2 && (ring[i] - out[k - 2]) ** 2 + (ring[i + 1] - out[k - 1]) ** 2 < near) continue
    out.push(ring[i], ring[i + 1])
  }
  while (out.length > 6 && (out[0] - out[out.length - 2]) ** 2 + (out[1] - out[out.length - 1]) ** 2 < near) out.length -= 2
  for (let i = 0; i < out.length && out.length > 6; ) {
    const n = out.length
    const [ax, ay] = [out[(i + n - 2) % n], out[(i + n - 1) % n]]
    const [bx, by] = [out[i], out[i + 1]]
    const [cx, cy] = [out[(i + 2) % n], out[(i + 3) % n]]
    const cross = (bx - ax) * (cy - by) - (by - ay) * (cx - bx)
    const dot = (bx - ax) * (cx - bx) + (by - ay) * (cy - by)
    if (dot < 0 && Math.abs(cross) < 1e-3 * -dot) {
      out.splice(i, 2)
      i = Math.max(0, i - 4)
    } else i += 2
  }
  return out
}

/**
 * Two corners at one point would make an edge with four faces once extruded. Each is moved a few lattice steps along its
 * own bisector into the interior, which draws them apart by less than can be seen or printed. Returns new rings.
 */
function separateTouching(source: readonly number[][], lattice: number): number[][] {
  const rings = source.map((ring) => ring.slice())
  const seen = new Map<number, [number, number][]>()
  rings.forEach((ring, r) => {
    for (let i = 0; i < ring.length; i += 2) {
      const key = latticeKey(ring[i], ring[i + 1], lattice)
      const list = seen.get(key)
      if (list) list.push([r, i])
      else seen.set(key, [[r, i]])
    }
  })
  for (const places of seen.values()) {
    if (places.length < 2) continue
    for (const [r, i] of places) {
      const ring = rings[r]
      const n = ring.length
      const [x, y] = [ring[i], ring[i + 1]]
      const inX = x - ring[(i + n - 2) % n]
      const inY = y - ring[(i + n - 1) % n]
      const outX = ring[(i + 2) % n] - x
      const outY = ring[(i + 3) % n] - y
      const li = Math.hypot(inX, inY)
      const lo = Math.hypot(outX, outY)
      let bx = -inY / li - outY / lo
      let by = inX / li + outX / lo
      const lb = Math.hypot(bx, by)
      if (lb < 1e-6) {
        bx = -inX / li
        by = -inY / li
      } else {
        bx /= lb
        by /= lb
      }
      ring[i] = snap(x + bx * 12 * lattice, lattice)
      ring[i + 1] = snap(y + by * 12 * lattice, lattice)
    }
  }
  return rings
}

function withTangents(ring: number[], index: TangentIndex): Flat {
  const n = ring.length / 2
  const xy = Float64Array.from(ring)
  const tangents = new Float64Array(4 * n)
  for (let i = 0; i < n; i++) {
    const p = (i + n - 1) % n
    const q = (i + 1) % n
    const a = chord(xy, p, i)
    const l = chord(xy, i, q)
    const known = index.find(xy[2 * i], xy[2 * i + 1])
    if (!known) {
      tangents.set([...a, ...l], 4 * i)
      continue
    }
    // the clipper may have turned the ring round, or cut one of the two segments away: believe what the chords confirm
    const flip = known[0] * a[0] + known[1] * a[1] + known[2] * l[0] + known[3] * l[1] < 0
    const arrive = flip ? [-known[2], -known[3]] : [known[0], known[1]]
    const leave = flip ? [-known[0], -known[1]] : [known[2], known[3]]
    const agrees = (t: number[], c: number[]) => t[0] * c[0] + t[1] * c[1] > 0.85
    const okA = agrees(arrive, a)
    const okL = agrees(leave, l)
    tangents.set([...(okA ? arrive : a), ...(okL ? leave : l)], 4 * i)
  }
  return { xy, tangents, closed: true }
}

function chord(xy: Float64Array, i: number, j: number): [number, number] {
  const dx = xy[2 * j] - xy[2 * i]
  const dy = xy[2 * j + 1] - xy[2 * i + 1]
  const length = Math.hypot(dx, dy)
  return [dx / length, dy / length]
}
