import { volumeOf } from '../solid/volume'
import { manifold, withScope } from '../kernel/manifold'
import { type Solid, solidBounds } from '../solid/solid'
import { areaOf, convexParts } from './convex-parts'

/** What a thing is to the physics: convex bodies, by their corners, that together stand for it. */
export interface BodyShape {
  /** x, y, z of the corners of each, mm */
  readonly parts: readonly Float64Array[]
  /** how much more or less of it they fill, a share of its own volume */
  readonly off: number
}

/** Convex parts may cover so much of a flat outline's area beside it. */
const SLACK = 0.002
/** One hull is good enough when it fills no more than this beside the solid. */
const CLOSE = 0.03
/** Hulls of more corners are told by those that lie furthest out. */
const MOST_CORNERS = 96
/** Of an outline in more pieces they are not drawn tight one by one. */
const MOST_DRAWN = 200
/** Outlines are taken to this, mm. */
const EVEN = 0.05

/**
 * A closed solid as convex bodies: its hull where that is close enough, else what its outline seen from the front falls into, as deep as it is; and where that is not close either, what of it lies
 * in front of and behind each of those, drawn tight. Of all whichever is nearest to its volume. Needs the kernel loaded.
 */
export function bodyShape(solid: Solid): BodyShape {
  const volume = Math.abs(volumeOf(solid))
  const own = corners(solid)
  return withScope((take) => {
    const { Manifold, Mesh } = manifold()
    const hull = take(Manifold.hull(own))
    const whole: BodyShape = { parts: [furthest(meshCorners(hull.getMesh()))], off: volume > 0 ? Math.abs(hull.volume() / volume - 1) : 0 }
    if (whole.off <= CLOSE || volume === 0) return whole
    const body = take(Manifold.ofMesh(new Mesh({ numProp: 3, vertProperties: Float32Array.from(solid.positions), triVerts: solid.indices })))
    const rings = take(take(body.project()).simplify(EVEN))
      .toPolygons()
      .map((ring) => ring.flatMap(([x, y]) => [x, y]))
    const flats = convexParts(rings, SLACK)
    if (!flats) return whole
    const [, , z0, , , z1] = solidBounds(solid.positions)
    const filled = flats.reduce((sum, flat) => sum + areaOf(flat) * (z1 - z0), 0)
    const straight: BodyShape = {
      parts: flats.map((flat) => Float64Array.from(flat.flatMap(([x, y]) => [x, y, z0, x, y, z1]))),
      off: Math.abs(filled / volume - 1),
    }
    const best = straight.off < whole.off ? straight : whole
    if (best.off <= CLOSE || flats.length > MOST_DRAWN) return best
    const parts: Float64Array[] = []
    let held = 0
    for (const flat of flats) {
      const column = take(take(Manifold.extrude([flat.map(([x, y]): [number, number] => [x, y])], z1 - z0)).translate([0, 0, z0]))
      const tight = take(take(body.intersect(column)).hull())
      if (!(tight.volume() > 0)) continue
      held += tight.volume()
      parts.push(furthest(meshCorners(tight.getMesh())))
    }
    const off = Math.abs(held / volume - 1)
    return off < best.off ? { parts, off } : best
  })
}

function corners({ positions: p }: Solid): [number, number, number][] {
  return Array.from({ length: p.length / 3 }, (_, v) => [p[3 * v], p[3 * v + 1], p[3 * v + 2]])
}

function meshCorners({ vertProperties: p, numProp }: { readonly vertProperties: Float32Array; readonly numProp: number }): Float64Array {
  return Float64Array.from({ length: (3 * p.length) / numProp }, (_, i) => p[numProp * Math.floor(i / 3) + (i % 3)])
}

/** Corners that lie furthest out in evenly spread directions (Fibonacci lattice), where there are very many. */
function furthest(points: Float64Array): Float64Array {
  if (points.length / 3 <= MOST_CORNERS) return points
  const kept = new Set<number>()
  for (let i = 0; i < MOST_CORNERS; i++) {
    const z = 1 - (2 * (i + 0.5)) / MOST_CORNERS
    const [r, a] = [Math.sqrt(1 - z * z), i * Math.PI * (3 - Math.sqrt(5))]
    const [dx, dy] = [r * Math.cos(a), r * Math.sin(a)]
    let [best, found] = [-Infinity, 0]
    for (let v = 0; v < points.length; v += 3) {
      const far = dx * points[v] + dy * points[v + 1] + z * points[v + 2]
      if (far > best) [best, found] = [far, v]
    }
    kept.add(found)
  }
  return Float64Array.from([...kept].flatMap((v) => [points[v], points[v + 1], points[v + 2]]))
}
