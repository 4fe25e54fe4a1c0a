import { firstMet, lengthTo, type Point } from '../check/rays'
import { type BoxTree, buildBoxTree } from '../check/tree'
import { INSIDE } from '../solid/labels'
import type { Solid } from '../solid/solid'
import { FLOOR } from './join'

/** About so many places are looked at. */
const MOST_PLACES = 2500
/** A triangle less high than this over its longest side says nothing of where the floor looks, mm. */
const SLIVER = 0.01
/** What lies nearer behind a floor than this is the floor itself, mm. */
const ITSELF = 1e-3
/** Two faces that are turned against each other by less than 30° are the two sides of a wall, even where they come to an edge. */
const WALL = Math.cos(Math.PI / 6)
/** A wall is what so much of the surface at least belongs to, as a share. */
const LEAST = 1e-3
/** Rays along a face run so far above or below it, in thicknesses; and over one that runs out in an edge there is nothing so far of the way there. */
const BESIDE = 0.1
const NEARLY = 0.9

export interface Thinnest {
  readonly thickness: number
  readonly place: readonly [number, number, number]
}

/**
 * The least thickness that stands behind the floor of what was cut, mm, and where: by rays from places on it straight into
 * the body. Undefined where no floor was laid bare.
 */
export function thinnestFloor(solid: Solid): Thinnest | undefined {
  const floor = solid.bands.indexOf(FLOOR)
  const { surface, labels } = solid
  return floor < 0 ? undefined : thinnest(solid, { wanted: (t) => labels.group[surface[t]] === INSIDE && labels.band[surface[t]] === floor })
}

/**
 * The least thickness of a closed mesh, mm, and where: by rays from places on it straight into it. Beside an edge that two faces run out in anything is as
 * thin as one likes: that is no wall; nor is what less than a thousandth of the surface belongs to, such as the last of a ridge.
 */
export const thinnestWall = (mesh: Pick<Solid, 'positions' | 'indices'>): Thinnest | undefined => thinnest(mesh, { walls: true }) ?? thinnest(mesh)

function thinnest(
  { positions: p, indices }: Pick<Solid, 'positions' | 'indices'>,
  { wanted = () => true, walls = false }: { readonly wanted?: (triangle: number) => boolean; readonly walls?: boolean } = {},
): Thinnest | undefined {
  const list: number[] = []
  for (let t = 0; t < indices.length / 3; t++) if (wanted(t) && !isSliver(p, indices, t)) list.push(t)
  const tree = buildBoxTree(p, indices)
  const found: (Thinnest & { readonly area: number })[] = []
  let all = 0
  for (const { t, place, area } of placesOn(p, indices, list)) {
    const n = normalOf(p, indices, t)
    const size = Math.hypot(...n)
    const way: Point = [-n[0] / size, -n[1] / size, -n[2] / size]
    const met = firstMet(tree, p, indices, place, way, ITSELF)
    if (met < 0) continue
    const straight = lengthTo(p, indices, met, place, way)
    const thickness = walls ? wallThickness(tree, p, indices, { place, way, met, straight }) : straight
    if (!Number.isFinite(thickness)) continue
    found.push({ thickness, place, area })
    all += area
  }
  found.sort((one, other) => one.thickness - other.thickness)
  // of a ridge the last tenths of a millimetre are no wall either
  let rest = walls ? LEAST * all : 0
  const best = found.find(({ area }) => (rest -= area) <= 0)
  return best && { thickness: best.thickness, place: best.place }
}

/** Twice a triangle's area along its normal, mm². */
function normalOf(p: Float64Array, indices: ArrayLike<number>, t: number): [number, number, number] {
  const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
  const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]]
  const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]]
  return [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx]
}

/**
 * The thickness of a wall that a ray goes `straight` through to the triangle it `met`. Where the two faces run out in an edge, it is that at the wedge's other end: nothing
 * stands on either between there and the edge, as the other side of a groove does.
 */
function wallThickness(
  tree: BoxTree,
  p: Float64Array,
  indices: ArrayLike<number>,
  { place, way, met, straight }: { readonly place: Point; readonly way: Point; readonly met: number; readonly straight: number },
): number {
  const n = normalOf(p, indices, met)
  const size = Math.hypot(...n)
  const turned = (n[0] * way[0] + n[1] * way[1] + n[2] * way[2]) / size
  if (turned > WALL) return straight
  const slope = Math.sqrt(1 - turned * turned)
  /** how far a ray goes beside a face, above it or below, to the edge or away from it */
  const beside = (from: Point, out: Point, across: Point, above: number, to: 1 | -1, most: number) => {
    const at = from.map((v, k) => v + above * BESIDE * straight * out[k]) as unknown as Point
    const along = across.map((v, k) => (to * (v + turned * out[k])) / slope) as unknown as Point
    const hit = firstMet(tree, p, indices, at, along, 0, most)
    return hit < 0 ? Infinity : lengthTo(p, indices, hit, at, along)
  }
  // of both faces what they look along
  const near = way.map((v) => -v) as unknown as Point
  const far = n.map((v) => v / size) as unknown as Point
  const through = place.map((v, k) => v + straight * way[k]) as unknown as Point
  const edge = (straight * turned) / slope
  if (beside(place, near, far, 1, 1, NEARLY * edge) < Infinity || beside(through, far, near, 1, 1, (NEARLY * straight) / slope) < Infinity) return straight
  return (straight * (edge + beside(place, near, far, -1, -1, Infinity))) / edge
}

/** Slivers look anywhere. */
function isSliver(p: Float64Array, indices: ArrayLike<number>, t: number): boolean {
  const side = (k: number) => {
    const [a, b] = [3 * indices[3 * t + k], 3 * indices[3 * t + ((k + 1) % 3)]]
    return Math.hypot(p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2])
  }
  return Math.hypot(...normalOf(p, indices, t)) < SLIVER * Math.max(side(0), side(1), side(2))
}

/**
 * Places on triangles, x, y, z, each for as much of the surface as the others, and the middles of all where these are few; with the triangle of each and the area it stands for. Within a triangle they are spread by a
 * sequence of low discrepancy (Roberts, "The unreasonable effectiveness of quasirandom sequences", 2018).
 */
function* placesOn(
  p: Float64Array,
  indices: ArrayLike<number>,
  list: readonly number[],
): Generator<{ readonly t: number; readonly place: Point; readonly area: number }> {
  const areas = list.map((t) => Math.hypot(...normalOf(p, indices, t)))
  const each = areas.reduce((sum, area) => sum + area, 0) / MOST_PLACES
  const at = (t: number, u: number, v: number): Point => {
    const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
    return [0, 1, 2].map((k) => p[a + k] + u * (p[b + k] - p[a + k]) + v * (p[c + k] - p[a + k])) as unknown as Point
  }
  let [sum, next, n] = [0, each / 2, 0]
  for (const [i, t] of list.entries()) {
    sum += areas[i]
    if (list.length <= MOST_PLACES || (sum >= next && areas[i] < each)) yield { t, place: at(t, 1 / 3, 1 / 3), area: Math.min(areas[i], each) }
    for (; sum >= next; next += each) {
      if (areas[i] < each) continue
      const [u, v] = [(++n * 0.7548776662466927) % 1, (n * 0.5698402909980532) % 1]
      yield { t, place: u + v > 1 ? at(t, 1 - u, 1 - v) : at(t, u, v), area: each }
    }
  }
}
