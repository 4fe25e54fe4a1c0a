import type { z } from 'zod'
import { firstPart, lengthsOf, type Line, type Spot, spotAt } from '../../../centre/line'
import type { CentreStroke } from '../../../centre/strokes'
import type { United } from '../../../join/united'
import { loadManifold } from '../../../kernel/manifold'
import { fitPath } from '../../../outline/fit'
import { flattenPath } from '../../../outline/flatten'
import { throughPoints } from '../../../outline/through-points'
import { painted } from '../../../paint/paint'
import type { PaintStyle } from '../../../paint/strip'
import type { Task } from '../../../parallel/share-out'
import type { brushParams } from './schema'

export type Params = z.infer<typeof brushParams>

/** Nothing of it is drawn so far. */
export const NOT_YET = 'not yet'

/** One region's strokes and how they are to be painted. */
interface RegionToPaint {
  readonly strokes: readonly CentreStroke[]
  /** its place in the word, from nought: no two letters alike are painted alike */
  readonly number: number
  /** how much of it is drawn, 0 to 1 */
  readonly part: number
  readonly params: Params
  readonly lattice: number
}

/** The paint of one region in its own coordinates, as far as it is drawn. */
export const paintRegion: Task<RegionToPaint, United | typeof NOT_YET | undefined> = {
  name: 'brush',
  run: async ({ strokes, number, part, params, lattice }) => {
    await loadManifold()
    const { by, share, width } = params
    const lines = strokes.map(({ points, closed, dot }, i) => {
      const wide = (spots: Line): Line => spots.map(([x, y, r]): Spot => [x, y, by === 'own' ? (r * share) / 100 : width / 2])
      const line = dot ? dab(points[0]) : smoothed(points, closed)
      const whole = closed && !dot ? goneOn(line) : overrun(line, 0.35 * Math.min(1, params.pointed))
      return { line: wide(whole), style: styleOf(params, 101 * number + i) }
    })
    const there = soFar(lines, part)
    return there.length === 0 ? NOT_YET : painted(there, lattice)
  },
}

/** The last of the lengths along a line, mm: how long it is. */
export const last = (lengths: Float64Array): number => lengths[lengths.length - 1] ?? 0

/** Lines as far as a share of all their lengths goes, one after another. */
export function soFar<T extends { readonly line: Line }>(lines: readonly T[], share: number): T[] {
  if (share >= 1) return [...lines]
  const lengths = lines.map(({ line }) => last(lengthsOf(line)))
  let left = share * lengths.reduce((sum, l) => sum + l, 0)
  return lines.flatMap((each, i) => {
    const line = left > 0 ? firstPart(each.line, left) : undefined
    left -= lengths[i]
    return line ? [{ ...each, line }] : []
  })
}

/** How stroke `number` of the word is painted. */
export const styleOf = ({ height, bristles, depth, uneven, pointed, lift, size, bank, seed }: Params, number: number): PaintStyle => {
  const [sizes, banks] = [throughPoints(size, 100), throughPoints(bank, 0)]
  return {
    height,
    bristles,
    depth: depth / 100,
    uneven: uneven / 100,
    pointed,
    lift,
    size: (t) => sizes(t) / 100,
    bank: banks,
    seed: seed + 7919 * number,
  }
}

/** A stroke's middle as one smooth line. */
function smoothed(points: Line, closed: boolean): Line {
  const half = points.map(([, , r]) => r).sort((a, b) => a - b)[points.length >> 1]
  const path = fitPath(
    points.flatMap(([x, y]) => [x, y]),
    closed,
    { tolerance: Math.max(2e-3, 0.04 * half), corner: 60 },
  )
  const { xy } = flattenPath(path, { tolerance: Math.max(1e-3, 0.005 * half), maxTurn: 4 })
  const flat = Array.from({ length: xy.length / 2 }, (_, k): Spot => [xy[2 * k], xy[2 * k + 1], 0])
  if (closed) flat.push(flat[0])
  // widths as they were, by the share of the length
  const ring = closed ? [...points, points[0]] : points
  const [own, now] = [lengthsOf(ring), lengthsOf(flat)]
  const factor = own[own.length - 1] / (now[now.length - 1] || 1)
  return flat.map(([x, y], i): Spot => [x, y, spotAt(ring, own, now[i] * factor)[2]])
}

/** A ring drawn in one go: a little further than where it began. */
export function goneOn(line: Line): Line {
  const lengths = lengthsOf(line)
  const whole = lengths[lengths.length - 1]
  const further = Math.min(0.25 * whole, 2.4 * line[0][2])
  const on: Spot[] = []
  for (let i = 1; i < line.length && lengths[i] < further; i++) on.push(line[i])
  return [...line, ...on, spotAt(line, lengths, further)]
}

/** A line run on at both ends by a share of the width, so that its points reach where its blunt ends did. */
function overrun(line: Line, by: number): Line {
  const end = (from: Spot, to: Spot): Spot => {
    const size = Math.hypot(to[0] - from[0], to[1] - from[1]) || 1
    const on = (2 * by * to[2]) / size
    return [to[0] + (to[0] - from[0]) * on, to[1] + (to[1] - from[1]) * on, to[2]]
  }
  return line.length < 2 || by === 0 ? line : [end(line[1], line[0]), ...line, end(line[line.length - 2], line[line.length - 1])]
}

/** One press of the brush. */
const dab = ([x, y, r]: Spot): Line => [
  [x - 0.9 * r, y + 0.3 * r, r],
  [x + 0.9 * r, y - 0.3 * r, r],
]
