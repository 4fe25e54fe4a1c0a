import { manifold, withScope } from '../kernel/manifold'
import { offsetRings } from '../outline/areas'
import { cleanPolygons, doubleArea, type PolygonSet, toPairs, winding } from '../outline/polygon'
import type { Flat } from '../outline/flatten'
import { OutlineFrame, type SolidBuilder } from './builder'
import { CAP, edgeSurface, triangulateLoops } from './edge-surface'
import { capLoops } from './even-caps'
import { SideBuilder } from './extrude'
import { cutProfile, overWall, type Profile } from './profile'
import { straightSkeleton } from './skeleton'
import { BACK, EDGE, FACE, INSIDE, NONE, RETURN } from './labels'
import type { Solid } from './solid'

export interface ChannelOptions {
  /** overall depth, floor and wall thickness, mm */
  readonly depth: number
  readonly floor: number
  readonly wall: number
  /** shapes the rim's outer edge; narrower than the rim */
  readonly rim?: Profile
  /** a panel set into the opening: its thickness, the ledge it rests on and the play all round, mm */
  readonly panel?: { readonly thickness: number; readonly ledge: number; readonly clearance: number }
  /** round holes through the floor */
  readonly mounting?: { readonly diameter: number; readonly count: number }
  readonly cable?: { readonly diameter: number }
  readonly tolerance: number
  readonly letterAt?: (x: number, y: number) => number
}

export interface ChannelResult {
  readonly solid: Solid
  /** the stroke is nowhere wide enough for two walls: the letter is solid */
  readonly closed: boolean
  /** middles of stretches too narrow for two walls, x, y in mm, widest first */
  readonly narrow: readonly (readonly [number, number])[]
  /** holes asked for that found no place */
  readonly homeless: number
}

/** Room between a hole and the walls, mm. */
const HOLE_MARGIN = 0.8

/**
 * An open-faced letter: a floor, walls round it, and where asked a panel that rests on a ledge. The parts are closed and do not
 * touch. Insides are group "inside", the panel is "face", the rim "edge". Needs the manifold kernel loaded.
 */
export function channelSolid(set: PolygonSet, options: ChannelOptions): ChannelResult {
  const { lattice } = set
  const on = (v: number) => Math.round(v / lattice) * lattice
  const { panel } = options
  const [depth, floor] = [on(options.depth), on(options.floor)]
  const pocket = inset(set, options.wall)
  // without a pocket there is nothing for a panel to lie over
  const seat = panel && pocket.rings.length > 0 ? inset(set, options.wall - panel.ledge) : undefined
  const side = new SideBuilder(set, options.letterAt, true)
  const { mesh, frame } = side
  const narrow = narrowPlaces(set, options.wall)
  const opening = seat ?? pocket
  // round inner corners keep the rim's shape clear of the opening; where it pinches itself, the rim stays square
  let { cut: rim, rim: foot } = overWall(cutProfile(options.rim, options.tolerance, lattice))
  let { surface } = edgeSurface(set, rim.levels, [], 'round')
  let opened = withOpening(surface, opening)
  if (!opened || surface.approximate) {
    ;({ cut: rim, rim: foot } = overWall(cutProfile(undefined, options.tolerance, lattice)))
    surface = edgeSurface(set, []).surface
    opened = withOpening(surface, opening)
  }
  const holes = pocket.rings.length > 0 ? placeHoles(pocket, options) : { circles: [], homeless: 0 }
  // the rim: the edge's surface, its cap cut open
  side.side({ ...surface, ...opened }, rim, depth - rim.maxHeight, 1, EDGE)
  frame.walls(mesh, 0, depth - rim.maxHeight + foot, RETURN)
  level(mesh, [...set.rings, ...holes.circles.map(turnedRound)], 0, BACK, -1, options.letterAt)
  if (pocket.rings.length > 0) {
    const letter = options.letterAt
    // the rim's shape may end below its highest place
    const zRim = depth - rim.maxHeight + rim.faceHeight
    const zLedge = panel ? on(options.depth - panel.thickness - panel.clearance) : zRim
    const into = (rings: readonly Flat[], low: number, high: number) => new OutlineFrame(rings.map(turnedRound), letter).walls(mesh, low, high, INSIDE)
    into(pocket.rings, floor, zLedge)
    if (seat) {
      level(mesh, [...seat.rings, ...pocket.rings.map(turnedRound)], zLedge, INSIDE, 1, letter)
      into(seat.rings, zLedge, zRim)
    }
    level(mesh, [...pocket.rings, ...holes.circles.map(turnedRound)], floor, INSIDE, 1, letter)
    into(holes.circles, 0, floor)
  }
  if (panel && seat && seat.rings.length > 0) {
    const pane = inset(seat, panel.clearance)
    const [low, high] = [on(options.depth - panel.thickness), depth]
    level(mesh, pane.rings, high, FACE, 1, options.letterAt)
    level(mesh, pane.rings, low, FACE, -1, options.letterAt)
    new OutlineFrame(pane.rings, options.letterAt).walls(mesh, low, high, FACE)
  }
  return { solid: mesh.finish(), closed: pocket.rings.length === 0, narrow, homeless: holes.homeless }
}

/** The set shrunk by a distance with round corners, so that walls are equally thick everywhere. */
function inset(set: PolygonSet, distance: number): PolygonSet {
  const rings = offsetRings(
    set.rings.map(({ xy }) => toPairs(xy)),
    -distance,
    'round',
  )
  const flats = rings.filter((ring) => ring.length >= 3).map((ring) => smoothRing(Float64Array.from(ring.flat())))
  return cleanPolygons(flats, set.lattice)
}

/** A ring with tangents for shading: of its neighbours where it turns gently, of its sides at corners. */
function smoothRing(xy: Float64Array): Flat {
  const n = xy.length / 2
  const tangents = new Float64Array(4 * n)
  for (let i = 0; i < n; i++) {
    const [p, q] = [(i + n - 1) % n, (i + 1) % n]
    const a = unit(xy[2 * i] - xy[2 * p], xy[2 * i + 1] - xy[2 * p + 1])
    const b = unit(xy[2 * q] - xy[2 * i], xy[2 * q + 1] - xy[2 * i + 1])
    const gentle = a[0] * b[0] + a[1] * b[1] > 0.92
    const m = unit(a[0] + b[0], a[1] + b[1])
    tangents.set(gentle ? [...m, ...m] : [...a, ...b], 4 * i)
  }
  return { xy, tangents, closed: true }
}

function unit(x: number, y: number): [number, number] {
  const l = Math.hypot(x, y) || 1
  return [x / l, y / l]
}

/** The same ring run the other way: what bounds a hole bounds the matter about it. */
function turnedRound({ xy, tangents }: Flat): Flat {
  const n = xy.length / 2
  const out = { xy: new Float64Array(2 * n), tangents: new Float64Array(4 * n), closed: true }
  for (let i = 0; i < n; i++) {
    const j = n - 1 - i
    out.xy.set(xy.subarray(2 * j, 2 * j + 2), 2 * i)
    const t = tangents.subarray(4 * j, 4 * j + 4)
    out.tangents.set([-t[2], -t[3], -t[0], -t[1]], 4 * i)
  }
  return out
}

/** A level area between rings (outer ones counter-clockwise, holes clockwise) at height z, looking up or down. */
function level(mesh: SolidBuilder, rings: readonly Flat[], z: number, group: number, up: 1 | -1, letterAt?: (x: number, y: number) => number): void {
  const x: number[] = []
  const y: number[] = []
  const loops = rings.map(({ xy }) => {
    const loop: number[] = []
    for (let i = 0; i < xy.length; i += 2) {
      loop.push(x.length)
      x.push(xy[i])
      y.push(xy[i + 1])
    }
    return loop
  })
  const found = triangulateLoops(loops, x, y)
  for (let i = 0; i < found.length; i += 3) {
    const ids = [found[i], found[i + 1], found[i + 2]]
    ids.forEach((v, k) => {
      mesh.setNormal(k, 0, 0, up)
      mesh.setUv(k, x[v], y[v])
    })
    const letter = letterAt ? letterAt((x[ids[0]] + x[ids[1]] + x[ids[2]]) / 3, (y[ids[0]] + y[ids[1]] + y[ids[2]]) / 3) : NONE
    const [a, b, c] = ids.map((v) => mesh.vertex(x[v], y[v], z))
    mesh.triangle(a, b, c, group, letter, up)
  }
}

/** The surface's arrays with the opening cut out of its caps; undefined where their border passes one point twice. */
function withOpening(surface: ReturnType<typeof edgeSurface>['surface'], opening: PolygonSet) {
  if (opening.rings.length === 0) return {}
  const x = surface.x.slice()
  const y = surface.y.slice()
  const inset = surface.inset.slice()
  const loops = capLoops(surface)
  if (loops.length === 0) return undefined
  const capInset = loops.length > 0 ? inset[loops[0][0]] : 0
  for (const { xy } of opening.rings) {
    const loop: number[] = []
    for (let i = xy.length - 2; i >= 0; i -= 2) {
      loop.push(x.length)
      x.push(xy[i])
      y.push(xy[i + 1])
      inset.push(capInset)
    }
    loops.push(loop)
  }
  const found = triangulateLoops(loops, x, y)
  const triangles: number[] = []
  const strip: number[] = []
  const edge: number[] = []
  for (let i = 0; i < surface.strip.length; i++) {
    if (surface.strip[i] === CAP) continue
    triangles.push(surface.triangles[3 * i], surface.triangles[3 * i + 1], surface.triangles[3 * i + 2])
    strip.push(surface.strip[i])
    edge.push(surface.edge[i])
  }
  for (const triangle of found) triangles.push(triangle)
  for (let i = 0; i < found.length / 3; i++) {
    strip.push(CAP)
    edge.push(-1)
  }
  return { x, y, inset, triangles, strip, edge }
}

/** Middles of what vanishes when the set is opened by a wall on each side: strokes too narrow for a channel. */
function narrowPlaces(set: PolygonSet, wall: number): [number, number][] {
  const whole = set.rings.map(({ xy }) => toPairs(xy))
  const opened = offsetRings(offsetRings(whole, -wall, 'round'), wall * 1.02, 'mitre')
  const places: { area: number; at: [number, number] }[] = []
  // what is left over, but for the tips of corners
  for (const ring of differenceRings(whole, opened)) {
    const xy = ring.flat()
    const area = doubleArea(xy) / 2
    if (area < 0.5 * wall * wall) continue
    let [cx, cy] = [0, 0]
    for (let i = 0, j = xy.length - 2; i < xy.length; j = i, i += 2) {
      const f = xy[j] * xy[i + 1] - xy[i] * xy[j + 1]
      cx += (xy[j] + xy[i]) * f
      cy += (xy[j + 1] + xy[i + 1]) * f
    }
    places.push({ area, at: [cx / (6 * area), cy / (6 * area)] })
  }
  return places.sort((a, b) => b.area - a.area).map(({ at }) => at)
}

function differenceRings(a: [number, number][][], b: [number, number][][]): [number, number][][] {
  const { CrossSection } = manifold()
  return withScope((own) => {
    const [p, q] = [own(new CrossSection(a, 'Positive')), own(new CrossSection(b, 'Positive'))]
    return own(p.subtract(q)).toPolygons()
  })
}

/**
 * Places for holes in the pocket: where it is widest, far from each other; the cable's nearest to the middle. Candidates are the
 * skeleton's own arcs, which run along the middles of strokes.
 */
function placeHoles(pocket: PolygonSet, { mounting, cable }: ChannelOptions): { circles: Flat[]; homeless: number } {
  const asked = [...(cable ? [cable.diameter] : []), ...Array.from({ length: mounting?.count ?? 0 }, () => mounting?.diameter ?? 0)]
  if (asked.length === 0) return { circles: [], homeless: 0 }
  const { x, y, room } = middles(pocket, Math.min(...asked) / 2)
  let [cx, cy, weight] = [0, 0, 0]
  const candidates: number[] = []
  for (let v = 0; v < x.length; v++) {
    if (room[v] < Math.min(...asked) / 2 + HOLE_MARGIN || winding(pocket.rings, x[v], y[v]) <= 0) continue
    candidates.push(v)
    cx += x[v] * room[v]
    cy += y[v] * room[v]
    weight += room[v]
  }
  const taken: { x: number; y: number; r: number }[] = []
  let homeless = 0
  asked.forEach((diameter, i) => {
    const r = diameter / 2
    let best = -1
    let bestValue = -Infinity
    for (const v of candidates) {
      if (room[v] < r + HOLE_MARGIN) continue
      const gaps = taken.map((t) => Math.hypot(t.x - x[v], t.y - y[v]) - t.r - r)
      const nearest = Math.min(Infinity, ...gaps)
      if (nearest < HOLE_MARGIN) continue
      const middle = Math.hypot(x[v] - cx / weight, y[v] - cy / weight)
      // the cable goes to the middle, the screws as far apart as they can be
      const value = i === 0 && cable ? -middle : taken.length === 0 ? middle : Math.min(nearest, 1e6)
      if (value > bestValue + 1e-9) {
        bestValue = value
        best = v
      }
    }
    if (best < 0) homeless++
    else taken.push({ x: x[best], y: y[best], r })
  })
  return { circles: taken.map(({ x: hx, y: hy, r }) => circle(hx, hy, r, pocket.lattice)), homeless }
}

/** Points along the skeleton's arcs, no further apart than `step` mm, and their distances from the walls. */
function middles(pocket: PolygonSet, step: number): { x: number[]; y: number[]; room: number[] } {
  const { x, y, t, arcFrom, arcTo } = straightSkeleton(pocket, { limit: 1000 })
  const out = { x: [] as number[], y: [] as number[], room: [] as number[] }
  for (let k = 0; k < arcFrom.length; k++) {
    const [a, b] = [arcFrom[k], arcTo[k]]
    // every arc is there twice, once for either face
    if (a > b) continue
    const parts = Math.max(1, Math.ceil(Math.hypot(x[b] - x[a], y[b] - y[a]) / step))
    for (let i = 0; i <= parts; i++) {
      const f = i / parts
      out.x.push(x[a] + f * (x[b] - x[a]))
      out.y.push(y[a] + f * (y[b] - y[a]))
      out.room.push(t[a] + f * (t[b] - t[a]))
    }
  }
  return out
}

function circle(cx: number, cy: number, r: number, lattice: number): Flat {
  const n = 48
  const xy = new Float64Array(2 * n)
  const tangents = new Float64Array(4 * n)
  for (let i = 0; i < n; i++) {
    const a = (2 * Math.PI * i) / n
    xy[2 * i] = Math.round((cx + r * Math.cos(a)) / lattice) * lattice
    xy[2 * i + 1] = Math.round((cy + r * Math.sin(a)) / lattice) * lattice
    tangents.set([-Math.sin(a), Math.cos(a), -Math.sin(a), Math.cos(a)], 4 * i)
  }
  return { xy, tangents, closed: true }
}
