import type { Point } from '../check/rays'
import type { Solid } from '../solid/solid'
import { type Area, Chart } from './chart'
import { faired, roughness } from './fair'
import { flatAxes, levelLine, type Line, straightLine } from './geodesic'
import { findRoundBody, missOf, type RoundBody, sizeOf } from './round-body'
import { Sheet } from './sheet'
import { strokeMap } from './stroke-map'
import {
  across,
  areaNormal,
  atWeights,
  cross,
  dot,
  type Nearest,
  nearestPlace,
  nextOf,
  type Surface,
  surfaceAlong,
  surfaceNear,
  surfaceWhere,
  unit,
  vertexNormals,
} from './surface'

/** How words are laid: straight on along one direction, wrapped round a cylinder, cone or ball, or over any surface. */
type Laying = 'straight' | 'round' | 'any'

export interface LayOptions {
  readonly how: Laying
  /** where the words' origin comes to lie; the nearest place of the body is taken */
  readonly point: Point
  /** how far the line is turned against the level, degrees, against the clock as seen from outside */
  readonly angle: number
  /** the line over a round or any surface: as straight as it can, or as level as it starts */
  readonly line: 'straight' | 'level'
  /** what the words fill about their origin, mm */
  readonly area: Area
  /** how far from the surface anything of them stands at most, mm */
  readonly depth: number
  /** over what length the surface is smoothed beneath them, mm; 0 where it need not be */
  readonly smooth: number
  /** the surface is rough all over */
  readonly rough?: boolean
  /** of words laid straight on, where they stand, if that is given and not to be found from the surface */
  readonly frame?: Frame
}

/** Where the words' origin lies and how they stand there: unit vectors at right angles. */
export interface Frame {
  readonly point: Point
  readonly along: Point
  readonly up: Point
  readonly normal: Point
}

/** A surface that words can be laid on: for every place of their plane one in space, and a direction off the surface. */
export interface Ground {
  readonly frame: Frame
  readonly surface: Surface
  /** unit vectors of the vertices, along which depth is measured */
  readonly normals: Float64Array
  readonly chart: Chart
  /** the positions that lengths are measured on: the smoothed ones where it was smoothed */
  readonly measured: Float64Array
  /** the positions that sharp edges are looked for on: the smoothed ones where the surface is rough all over */
  readonly edged: Float64Array
  readonly round?: RoundBody
  /** smooth, where the surface itself bends at every side */
  readonly sheet?: Sheet
}

export type GroundFailure = 'too-large' | 'no-surface' | 'not-round'

/** Sides of the surface under the words, mm: so many in their height and their length. */
const ACROSS = 6
const ALONG = 30
/** What is unrolled exactly needs no more than so many times as long ones. */
const COARSER = 3
/** A surface rougher than this, in shares of its sides, is smoothed before a line is led over it. */
const ROUGH = 0.02

/** How well what only shows where the line runs is smoothed. */
const ROUGHLY = 0.05

/** Triangles that are enough for what is smoothed: more of them only where words need them anyway. */
const ENOUGH_TO_SMOOTH = 200_000

/** The ground for words on a body's surface, or why there is none. */
export function groundFor(body: Solid, options: LayOptions): Ground | { readonly why: GroundFailure } {
  const { how, area, depth, smooth } = options
  const [width, height] = [area[2] - area[0], area[3] - area[1]]
  const start = nearestPlace(body, options.point)
  if (!start) return { why: 'no-surface' }
  const step = Math.max(0.2, Math.min(height / ACROSS, width / ALONG)) * (how === 'round' ? COARSER : 1)
  if (how === 'straight') return groundStraight(body, start, options, step)
  const margin = 2 * step
  const wide: Area = [area[0] - margin, area[1] - margin, area[2] + margin, area[3] + margin]
  const farthest = Math.max(...[0, 2].flatMap((i) => [1, 3].map((j) => Math.hypot(area[i], area[j]))))
  const around = surfaceNear(body, start.point, 1.03 * farthest + depth + 3 * smooth + 3 * step)
  // what is coarse cannot be smoothed as it is, and is not rough either
  const whole = lineOn(around, smooth > 0 && smooth > meanSide(around) ? faired(around, smooth, ROUGHLY) : around.positions, start.point, options, wide)
  // only what lies along the line is looked at closer
  const reach = 1.15 * Math.max(-wide[1], wide[3]) + margin + 3 * smooth
  const finest = smooth > 0 ? Math.max(Math.min(step, Math.max(0.3, smooth / 2)), smooth / 4) : step
  // a level line may go nowhere from where it starts
  const points = [start.point, ...pointsOf(whole, reach / 2)]
  let surface: Surface | undefined
  for (let side = finest; side < step && !surface; side *= 2) surface = surfaceAlong(around, points, reach, side, ENOUGH_TO_SMOOTH)
  surface ??= surfaceAlong(around, points, reach, Math.max(step, finest))
  if (!surface) return { why: 'too-large' }
  const measured = smooth > 0 ? faired(surface, smooth) : surface.positions
  const { line, place, frame, normals, level } = lineOn(surface, measured, start.point, options, wide)
  if (how === 'round') {
    const round = findRoundBody(level, normals, place.triangle, Math.max(height / 2, (4 * step) / COARSER))
    return round ? groundRound(surface, round, frame, options, wide) : { why: 'not-round' }
  }
  const uv = strokeMap(level, normals, line, Math.max(-wide[1], wide[3]) + margin)
  const chart = new Chart(surface, uv, wide)
  return {
    frame,
    surface,
    normals,
    chart,
    measured,
    edged: options.rough ? measured : surface.positions,
    sheet: new Sheet(chart, surface, measured, normals, wide, 1.5 * step),
  }
}

/** The line of words over a surface through the place nearest to a point, and how they stand there. */
function lineOn(surface: Surface, measured: Float64Array, point: Point, { angle, line }: LayOptions, wide: Area) {
  const place = nearestPlace(surface, point) as Nearest
  const level: Surface = { ...surface, positions: measured }
  const normals = vertexNormals(measured, surface.indices)
  const frame = frameAt(place.point, unit(atWeights(normals, surface.indices, place.triangle, place.weights)), angle)
  const at = atWeights(measured, surface.indices, place.triangle, place.weights)
  return {
    place,
    level,
    measured,
    normals,
    frame,
    line:
      line === 'level'
        ? levelLine(level, place.triangle, at, levelNormal(frame, angle), frame.along, -wide[0], wide[2])
        : straightLine(level, place.triangle, place.weights, frame.along, -wide[0], wide[2]),
  }
}

function meanSide({ positions: p, indices }: Surface): number {
  let sum = 0
  for (let h = 0; h < indices.length; h++) {
    const [a, b] = [3 * indices[h], 3 * indices[nextOf(h)]]
    sum += Math.hypot(p[a] - p[b], p[a + 1] - p[b + 1], p[a + 2] - p[b + 2])
  }
  return sum / Math.max(1, indices.length)
}

/** Points of a line in space, no further apart than so much, mm. */
function* pointsOf({ line, level }: { line: Line; level: Surface }, apart: number): Generator<Point> {
  for (const { h, x, y, dx, dy, u0, u1 } of line.stretches) {
    const [ex, ey] = flatAxes(level, h)
    const corner = 3 * level.indices[h]
    const parts = Math.max(1, Math.ceil((u1 - u0) / apart))
    for (let i = 0; i <= parts; i++) {
      const d = ((u1 - u0) * i) / parts
      yield [0, 1, 2].map((k) => level.positions[corner + k] + (x + d * dx) * ex[k] + (y + d * dy) * ey[k]) as unknown as Point
    }
  }
}

/** The frame of words laid straight on at a place: by what of the body looks about the same way under them. */
export function straightFrame(body: Solid, start: Nearest, { area, angle }: Pick<LayOptions, 'area' | 'angle'>): Frame {
  const own = unit(areaNormal(body.positions, body.indices, start.triangle))
  return frameAt(start.point, meanNormal(body, start.point, own, Math.min(area[2] - area[0], area[3] - area[1]) / 2), angle)
}

/** Straight on: along the frame's normal from without, so that what lies highest is met. */
function groundStraight(body: Solid, start: Nearest, options: LayOptions, step: number): Ground | { readonly why: GroundFailure } {
  const { area, smooth, frame = straightFrame(body, start, options) } = options
  const flat = (p: Float64Array, v: number) => {
    const d: Point = [p[3 * v] - frame.point[0], p[3 * v + 1] - frame.point[1], p[3 * v + 2] - frame.point[2]]
    return [dot(d, frame.along), dot(d, frame.up), dot(d, frame.normal)] as const
  }
  const margin = Math.max(step, 2 * smooth)
  const inArea = (u: number, v: number, i: number, j: number) =>
    Math.max(u, i) >= area[0] - margin && Math.min(u, i) <= area[2] + margin && Math.max(v, j) >= area[1] - margin && Math.min(v, j) <= area[3] + margin
  const surface = surfaceWhere(
    body,
    (a, b, c) => {
      const [p, q, r] = [flat(body.positions, a), flat(body.positions, b), flat(body.positions, c)]
      return inArea(Math.min(p[0], q[0], r[0]), Math.min(p[1], q[1], r[1]), Math.max(p[0], q[0], r[0]), Math.max(p[1], q[1], r[1]))
    },
    (p, a, b) => {
      const [q, r] = [flat(p, a / 3), flat(p, b / 3)]
      return (q[0] - r[0]) ** 2 + (q[1] - r[1]) ** 2 > step * step && inArea(q[0], q[1], r[0], r[1])
    },
  )
  if (!surface) return { why: 'too-large' }
  const normals = vertexNormals(smooth > 0 ? faired(surface, smooth) : surface.positions, surface.indices)
  const { positions } = surface
  const uv = new Float64Array((2 * positions.length) / 3)
  const heights = new Float64Array(positions.length / 3)
  for (let v = 0; v < heights.length; v++) [uv[2 * v], uv[2 * v + 1], heights[v]] = flat(positions, v)
  const chart = new Chart(surface, uv, area, heights)
  return { frame, surface, normals, chart, measured: positions, edged: positions, sheet: new Sheet(chart, surface, positions, normals, area, 1.5 * step) }
}

/** Over what lengths a body's surface is smoothed beneath words, one after another until nothing folds, mm; and whether it is rough. */
export function smoothings(body: Solid, { point, area, depth }: Pick<LayOptions, 'point' | 'area' | 'depth'>): { lengths: number[]; rough: boolean } {
  const start = nearestPlace(body, point)
  const reach = Math.min(area[3] - area[1], 40)
  const around = start && surfaceNear(body, start.point, reach)
  const near = around && surfaceAlong(around, [start.point], reach, reach / 12)
  const first = Math.max(depth, 0.5)
  const rough = near !== undefined && roughness(near) > ROUGH
  return { lengths: rough ? [first, 2 * first, 4 * first, 8 * first] : [0, first, 2 * first, 4 * first], rough }
}

/**
 * How words stand at a place: level at no angle, or along x where the surface itself lies level; upright either way. Over a surface that looks
 * down they still read from left to right as one sees them from outside.
 */
export function frameAt(point: Point, normal: Point, angle: number): Frame {
  const lying = Math.abs(normal[1]) > 0.999
  const base = unit(lying ? across([1, 0, 0], normal) : cross([0, 1, 0], normal))
  const side = cross(normal, base)
  const [c, s] = [Math.cos((angle * Math.PI) / 180), Math.sin((angle * Math.PI) / 180)]
  const along = unit([0, 1, 2].map((k) => c * base[k] + s * side[k]) as unknown as Point)
  return { point, along, up: cross(normal, along), normal }
}

/** The normal of the plane that cuts a level line: upright at no angle, turned about the surface's normal by the angle. */
function levelNormal({ normal, up }: Frame, angle: number): Point {
  if (Math.abs(normal[1]) > 0.999) return up
  const [c, s] = [Math.cos((angle * Math.PI) / 180), Math.sin((angle * Math.PI) / 180)]
  const y: Point = [0, 1, 0]
  const k = cross(normal, y)
  const d = dot(normal, y) * (1 - c)
  return unit([0, 1, 2].map((i) => c * y[i] + s * k[i] + d * normal[i]) as unknown as Point)
}

/** The mean direction of a surface about a place, of what looks the same way. */
function meanNormal({ positions: p, indices }: Pick<Surface, 'positions' | 'indices'>, at: Point, normal: Point, radius: number): Point {
  const sum: [number, number, number] = [normal[0] * 1e-9, normal[1] * 1e-9, normal[2] * 1e-9]
  for (let i = 0; i < indices.length; i += 3) {
    const n = areaNormal(p, indices, i / 3)
    if (dot(n, normal) <= 0.3 * Math.hypot(...n)) continue
    const middle = [0, 1, 2].map((k) => (p[3 * indices[i] + k] + p[3 * indices[i + 1] + k] + p[3 * indices[i + 2] + k]) / 3)
    // large triangles count where the place itself is in them, which is always so for the first
    if (Math.hypot(middle[0] - at[0], middle[1] - at[1], middle[2] - at[2]) > radius) continue
    for (let k = 0; k < 3; k++) sum[k] += n[k]
  }
  return unit(sum)
}

/** How far off a round body its surface may lie, in shares of the radius, for words wrapped round it. */
const OFF_ROUND = 0.025

/** The plane rolled off a round body: exact on cylinders and cones; on a ball along a great circle, with what lies beside it at right angles. */
function groundRound(surface: Surface, round: RoundBody, frame: Frame, { line, angle }: LayOptions, wide: Area): Ground {
  const { positions: p } = surface
  const n = p.length / 3
  const uv = new Float64Array(2 * n)
  const heights = new Float64Array(n)
  const normals = new Float64Array(3 * n)
  const own = ownNormal(round, frame.point)
  const size = sizeOf(round, frame.point)
  const stand = frameAt(frame.point, own, angle)
  const roll =
    round.shape === 'ball' ? ballRoll(round, stand, line, angle) : round.shape === 'cylinder' ? cylinderRoll(round, stand) : coneRoll(round, stand, line)
  for (let v = 0; v < n; v++) {
    const at: Point = [p[3 * v], p[3 * v + 1], p[3 * v + 2]]
    heights[v] = -Math.abs(missOf(round, at))
    // what does not lie on the round body is no place for words
    const on = Math.abs(missOf(round, at)) <= OFF_ROUND * size
    ;[uv[2 * v], uv[2 * v + 1]] = on ? roll.place(at) : [NaN, NaN]
    normals.set(ownNormal(round, at), 3 * v)
  }
  return { frame: stand, surface, normals, chart: new Chart(surface, uv, wide, heights, roll.widest), measured: p, edged: p, round }
}

function ownNormal(round: RoundBody, at: Point): Point {
  if (round.shape === 'ball') return unit([0, 1, 2].map((k) => at[k] - round.centre[k]) as unknown as Point)
  const from = round.shape === 'cylinder' ? round.centre : round.apex
  const out = unit(across([0, 1, 2].map((k) => at[k] - from[k]) as unknown as Point, round.axis))
  if (round.shape === 'cylinder') return out
  return [0, 1, 2].map((k) => Math.cos(round.angle) * out[k] - Math.sin(round.angle) * round.axis[k]) as unknown as Point
}

interface Roll {
  place(at: Point): readonly [number, number]
  /** a triangle longer than this lies where the roll was cut open, mm */
  readonly widest: number
}

/** The angle about an axis from one direction to another, both at right angles to it. */
const turnAbout = (axis: Point, from: Point, to: Point) => Math.atan2(dot(cross(from, to), axis), dot(from, to))

function cylinderRoll({ centre, axis, radius }: Extract<RoundBody, { shape: 'cylinder' }>, { point, along, up }: Frame): Roll {
  const offset = (at: Point): Point => [at[0] - centre[0], at[1] - centre[1], at[2] - centre[2]]
  const first = unit(across(offset(point), axis))
  const height = dot(offset(point), axis)
  const round = cross(axis, first)
  const [a, b] = [dot(round, along), dot(axis, along)]
  const [c, d] = [dot(round, up), dot(axis, up)]
  return {
    widest: Math.PI * radius,
    place(at) {
      const s = radius * turnAbout(axis, first, across(offset(at), axis))
      const h = dot(offset(at), axis) - height
      return [a * s + b * h, c * s + d * h]
    },
  }
}

function coneRoll({ apex, axis, angle }: Extract<RoundBody, { shape: 'cone' }>, { point, along, up }: Frame, line: 'straight' | 'level'): Roll {
  const offset = (at: Point): Point => [at[0] - apex[0], at[1] - apex[1], at[2] - apex[2]]
  const first = unit(across(offset(point), axis))
  const slant = (at: Point) => dot(offset(at), axis) * Math.cos(angle) + Math.hypot(...across(offset(at), axis)) * Math.sin(angle)
  const s0 = slant(point)
  const round = cross(axis, first)
  const down = unit([0, 1, 2].map((k) => axis[k] * Math.cos(angle) + first[k] * Math.sin(angle)) as unknown as Point)
  const [a, b] = [dot(round, along), dot(down, along)]
  const [c, d] = [dot(round, up), dot(down, up)]
  return {
    widest: Math.PI * s0 * Math.sin(angle),
    place(at) {
      const turn = turnAbout(axis, first, across(offset(at), axis)) * Math.sin(angle)
      const s = slant(at)
      const [x, y] = line === 'level' ? [s0 * turn, s - s0] : [s * Math.sin(turn), s * Math.cos(turn) - s0]
      return [a * x + b * y, c * x + d * y]
    },
  }
}

function ballRoll({ centre, radius }: Extract<RoundBody, { shape: 'ball' }>, frame: Frame, line: 'straight' | 'level', angle: number): Roll {
  const { normal } = frame
  const lying = Math.abs(normal[1]) > 0.9
  // level: along a circle of latitude; else, and near the poles, along a great circle
  const pole: Point = line === 'level' && !lying ? [0, 1, 0] : frame.up
  const first = unit(across(normal, pole))
  const latitude = Math.asin(Math.max(-1, Math.min(1, dot(normal, pole))))
  const turned = line === 'level' && !lying ? (angle * Math.PI) / 180 : 0
  const [c, s] = [Math.cos(turned), Math.sin(turned)]
  const circle = radius * Math.cos(latitude)
  return {
    widest: Math.PI * circle,
    place(at) {
      const out = unit([at[0] - centre[0], at[1] - centre[1], at[2] - centre[2]])
      const x = circle * turnAbout(pole, first, across(out, pole))
      const y = radius * (Math.asin(Math.max(-1, Math.min(1, dot(out, pole)))) - latitude)
      return [c * x + s * y, c * y - s * x]
    },
  }
}
