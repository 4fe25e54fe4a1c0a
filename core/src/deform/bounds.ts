import { curveBounds } from '../outline/through-points'
import { solidBounds } from '../solid/solid'
import { type Bend, bendMap } from './bend'
import type { Bulge } from './bulge'
import type { Stage } from './composed'
import type { Deformation } from './deformation'
import type { Extent } from './space-map'
import type { Taper } from './taper'
import type { Twist } from './twist'
import { type Box, unitBoxes } from './units'
import type { Wave } from './wave'

/** What a map can do to what lies in a box. */
export interface MapBounds {
  /** no line through the box becomes longer than by this factor */
  readonly slope: number
  /** the most that the second derivative along a line comes to, 1/mm; the first one leaps nowhere */
  readonly bend: number
  /** where all of the box lies then, mm */
  readonly box: Box
}

/** Bounds of a deformation over a box (mm); undefined where it has corners there, or none are known. */
export function boundsOf(deformation: Deformation, box: Box): MapBounds | undefined {
  switch (deformation.kind) {
    case 'bend':
      return bendBounds(deformation, box)
    case 'twist':
      return twistBounds(deformation, box)
    case 'taper':
      return taperBounds(deformation, box)
    case 'bulge':
      return bulgeBounds(deformation, box)
    case 'wave':
      return waveBounds(deformation, box)
    case 'shear': {
      const { moved, by, level, slope } = deformation
      const ends = [slope * (box[by] - level), slope * (box[3 + by] - level)]
      return { slope: 1 + Math.abs(slope), bend: 0, box: widened(box, [moved], Math.min(...ends), Math.max(...ends)) }
    }
    case 'stretch': {
      const { factors, centre } = deformation
      return { slope: Math.max(...factors.map(Math.abs)), bend: 0, box: AXES.reduce((now, k) => sizedAlong(now, k, centre[k], factors[k], factors[k]), box) }
    }
    case 'cage':
    case 'run-along':
      return undefined
  }
}

/** Lengths across it stay, those along it change by the distance from the neutral plane: all at once where its extent ends. */
function bendBounds(bend: Bend, box: Box): MapBounds | undefined {
  const { along, towards, extent, neutral, curvature: k } = bend
  if (!isWithin(extent, box, along)) return undefined
  const slope = Math.max(1, Math.abs(1 - k * (box[towards] - neutral)), Math.abs(1 - k * (box[3 + towards] - neutral)))
  const middle = Float64Array.from(AXES, (axis) => (box[axis] + box[3 + axis]) / 2)
  bendMap(bend)(middle, 0)
  // no further from where its middle goes than its corners are, stretched
  const reach = (slope * Math.hypot(box[3 + along] - box[along], box[3 + towards] - box[towards])) / 2
  const to: Box = [...box]
  for (const axis of [along, towards]) {
    to[axis] = middle[axis] - reach
    to[3 + axis] = middle[axis] + reach
  }
  return { slope, bend: Math.abs(k) * (1 + slope), box: to }
}

function twistBounds({ about, extent, centre, start, end }: Twist, box: Box): MapBounds | undefined {
  if (!isWithin(extent, box, about)) return undefined
  const across = AXES.filter((k) => k !== about)
  const far = Math.hypot(...across.map((k, i) => furthest(box, k, centre[i])))
  const rate = Math.abs(((end - start) * Math.PI) / 180 / (extent.to - extent.from))
  const to: Box = [...box]
  across.forEach((k, i) => {
    to[k] = centre[i] - far
    to[3 + k] = centre[i] + far
  })
  return { slope: 1 + rate * far, bend: rate + rate * rate * far, box: to }
}

function taperBounds({ along, extent, centre, sized, curve }: Taper, box: Box): MapBounds | undefined {
  const of = curveBounds(curve)
  if (!of || !isWithin(extent, box, along)) return undefined
  const axes = AXES.filter((k) => sized[k])
  const far = Math.hypot(...axes.map((k) => furthest(box, k, centre[k])))
  const length = extent.to - extent.from
  const [slope, bend] = [of.slope / length, of.bend / (length * length)]
  return {
    slope: Math.max(1, Math.abs(of.least), Math.abs(of.most)) + far * slope,
    bend: slope + far * bend,
    box: axes.reduce((now, k) => sizedAlong(now, k, centre[k], of.least, of.most), box),
  }
}

/** With q the square of the distance as a share of the radius, 4q(1 − q) ≤ 1, √q(12 − 4q) ≤ 8 and √q(1 − q)² < 0.3. */
function bulgeBounds({ axes, radius, amount }: Bulge, box: Box): MapBounds {
  const most = Math.abs(amount)
  const moved = 0.3 * most * radius
  const sized = AXES.filter((k) => axes[k])
  return { slope: 1 + 2 * most, bend: (8 * most) / radius, box: widened(box, sized, -moved, moved) }
}

function waveBounds({ along, moved, centre, height, length }: Wave, box: Box): MapBounds | undefined {
  const [high, turn] = [Math.abs(height), (2 * Math.PI) / length]
  // rings are bent themselves, the more the nearer to their middle
  const near = along === 'ring' ? Math.hypot(...[0, 1].map((k) => Math.max(0, box[k] - centre[k], centre[k] - box[3 + k]))) : Infinity
  if (!(near > 0)) return undefined
  return { slope: 1 + high * turn, bend: high * turn * (turn + 1 / near), box: widened(box, [moved], -high, high) }
}

const AXES = [0, 1, 2] as const

const isWithin = ({ from, to }: Extent, box: Box, axis: number): boolean => to > from && box[axis] >= from && box[3 + axis] <= to

/** How far off a coordinate the box reaches along an axis. */
const furthest = (box: Box, axis: number, from: number): number => Math.max(Math.abs(box[axis] - from), Math.abs(box[3 + axis] - from))

function widened(box: Box, axes: readonly number[], low: number, high: number): Box {
  const to: Box = [...box]
  for (const k of axes) {
    to[k] += low
    to[3 + k] += high
  }
  return to
}

/** Multiplied along an axis about a place by anything from `least` to `most`. */
function sizedAlong(box: Box, axis: number, about: number, least: number, most: number): Box {
  const ends = [box[axis] - about, box[3 + axis] - about].flatMap((d) => [d * least, d * most])
  const to: Box = [...box]
  to[axis] = about + Math.min(...ends)
  to[3 + axis] = about + Math.max(...ends)
  return to
}

/** What of a piece goes by the same maps in all stages. */
export interface Cells {
  /** of each vertex its cell; all are of one when left out */
  readonly of?: Int32Array
  /** of each cell the map it goes by at each stage, an index into `by` */
  readonly maps: readonly (readonly number[])[]
}

/** The cells of so many vertices: with letters that each go by a map of their own, as many as there are letters. */
export function cellsOf(stages: readonly Stage[], vertices: number): Cells {
  let of: Int32Array | undefined
  let maps: number[][] = [[]]
  for (const { by, units } of stages) {
    if (!units || by.length === 1) {
      for (const map of maps) map.push(0)
      continue
    }
    of ??= new Int32Array(vertices)
    const numbers = new Map<number, number>()
    const next: number[][] = []
    for (let v = 0; v < vertices; v++) {
      const key = of[v] * by.length + units[v]
      let number = numbers.get(key)
      if (number === undefined) {
        numbers.set(key, (number = next.length))
        next.push([...maps[of[v]], units[v]])
      }
      of[v] = number
    }
    maps = next
  }
  return { ...(of ? { of } : {}), maps }
}

/**
 * Bounds of deformations one after another over the boxes of what lies at `positions` (mm): slopes multiply; what a map bends grows by the square of what those before it
 * stretch, and with what those after it do. Undefined where nothing is known, as with weights.
 */
export function boundsOfAll(stages: readonly Stage[], positions: Float64Array, { of, maps } = cellsOf(stages, positions.length / 3)): MapBounds | undefined {
  if (stages.some(({ weights, strength }) => weights || !(strength >= 0 && strength <= 1))) return undefined
  const boxes = of ? unitBoxes(positions, of, maps.length) : [solidBounds(positions)]
  let all: MapBounds | undefined
  for (const [cell, box] of boxes.entries()) {
    const one = boundsOfOne(stages, maps[cell], box)
    if (!one) return undefined
    all = all ? { slope: Math.max(all.slope, one.slope), bend: Math.max(all.bend, one.bend), box: around(all.box, one.box) } : one
  }
  return all
}

function boundsOfOne(stages: readonly Stage[], maps: readonly number[], box: Box): MapBounds | undefined {
  let [slope, bend, at] = [1, 0, box]
  for (const [i, { by, strength }] of stages.entries()) {
    const own = boundsOf(by[maps[i]], at)
    if (!own) return undefined
    const steep = 1 - strength + strength * own.slope
    bend = strength * own.bend * slope * slope + steep * bend
    slope *= steep
    at = around(at, own.box)
  }
  return { slope, bend, box: at }
}

/**
 * So long may a side be, mm, that no place of it goes further than `tolerance` from the line between where its ends go: of a curve whose second derivative is at most b, a stretch
 * of length l is off its chord by at most b l²/8. 0 where no bounds are known.
 */
export const straightBelow = (bounds: MapBounds | undefined, tolerance: number): number => (bounds ? Math.sqrt((8 * tolerance) / bounds.bend) : 0)

const around = (a: Box, b: Box): Box =>
  AXES.reduce<Box>(
    (to, k) => {
      to[k] = Math.min(to[k], b[k])
      to[3 + k] = Math.max(to[3 + k], b[3 + k])
      return to
    },
    [...a],
  )
