import type { z } from 'zod'
import { type LineInSpace, measuredLine } from '../../../deform/run-along'
import type { Affine } from '../../../outline/affine'
import { ArcLength } from '../../../outline/arc-length'
import { placedPaths } from '../../../outline/outline'
import { type Path, reversePath, transformPath } from '../../../outline/path'
import { SpaceLine } from '../../../outline/space-line'
import { apply, joinSolids, type Matrix, transformed, UNMOVED } from '../../../solid/operations'
import { type Solid, solidBounds } from '../../../solid/solid'
import { deformInStep } from '../../shared/deforming'
import { solidOf } from '../../shared/joining'
import { type Evaluate, failed } from '../../step'
import type { runAlongParams } from './schema'

export const evaluate: Evaluate<typeof runAlongParams> = async (input, params, context) => {
  const [outline] = context.inputs.line ?? []
  if (outline?.kind !== 'outline') return failed('no-line', 'Run along needs a line to run along.', 'Choose a piece with a drawn stroke or an outline.', 'line')
  const matrix = context.placed?.line?.[0]?.matrix
  const longest = (paths: readonly Path[]) =>
    paths
      .map((path) => ({ path, length: new ArcLength(path).length }))
      .filter(({ length }) => length > 1e-3)
      .sort((a, b) => b.length - a.length)
      .map(({ path }) => path)
  const paths = [...longest(outline.strokes), ...longest(placedPaths(outline))]
  const found = paths[params.number - 1]
  if (!found)
    return paths.length === 0
      ? failed('no-line', 'That piece has no line: its strokes are single points.', 'Draw a stroke in it.', 'line')
      : failed('no-such-line', `That piece has ${paths.length} lines; there is no number ${params.number}.`, `Choose 1 to ${paths.length}.`, 'number')
  const space = spaceOf(params, matrix)
  const moved = matrix ? transformPath(found, space ? sizedBy(matrix) : inPlane(matrix)) : found
  const path = params.other ? reversePath(moved) : moved
  const line = measuredLine({ path, space })
  const whole = line.length
  if (params.fit !== 'kept' && !path.closed && Math.max(params.start, params.end) > 100)
    return failed('beyond', 'The line ends at 100 %: only a closed line goes on, round and round.', 'Take 100 % at most.', 'end')
  const from = (whole * Math.min(params.start, params.end)) / 100
  const room = (whole * Math.abs(params.end - params.start)) / 100
  if (params.fit !== 'kept' && room < 1e-3) return failed('no-room', 'Start and end of the line are one place.', 'Move the end further on.', 'end')
  let solid = solidOf(input)
  if (solid && params.fit === 'repeated') {
    const box = solidBounds(solid.positions)
    const copies = Math.max(1, Math.round(room / (box[3] - box[0])))
    if (copies > MOST_COPIES)
      return failed('too-many', `It would be repeated ${copies} times; ${MOST_COPIES} are the most.`, 'Make the piece longer, or the line shorter.', 'fit')
    solid = repeated(solid, copies, box[3] - box[0])
  }
  return deformInStep(solid, context, {
    title: 'Run along',
    params,
    main: { field: 'strength', value: params.strength, unit: ' %' },
    by: (box) => {
      const length = box[3] - box[0]
      return {
        kind: 'run-along',
        path,
        ...(space ? { space } : {}),
        start: box[0],
        scale: params.fit === 'kept' ? 1 : room / length,
        from,
        level: box[1] + ((box[4] - box[1]) * params.level) / 100,
        offset: params.offset,
        banking: params.banking,
        size: params.size.map(([t, v]) => [t, v / 100] as [number, number]),
        length,
        middle: (box[2] + box[5]) / 2,
      }
    },
    ...(line instanceof SpaceLine && space ? { marks: () => ({ lines: [drawn(line, space.plane, Math.max(params.start, params.end) / 100)] }) } : {}),
  })
}

const MOST_COPIES = 200

/** What makes the line one in space: its rise, or that its piece stands out of the letters' plane. */
function spaceOf({ rise, frames }: z.infer<typeof runAlongParams>, m: Matrix = UNMOVED): LineInSpace | undefined {
  const rises = rise.some(([, height]) => height !== 0)
  if (!rises && m[2] === 0 && m[6] === 0 && m[8] === 0 && m[9] === 0 && m[10] > 0 && m[11] === 0) return undefined
  const size = sizeOf(m)
  const plane = m.map((value, i) => (i % 4 === 3 ? value : value / size)) as unknown as Matrix
  return { plane, rise: rises ? rise : [], frames }
}

const sizeOf = (m: Matrix): number => Math.sqrt(m[0] ** 2 + m[4] ** 2 + m[8] ** 2)
const sizedBy = (m: Matrix): Affine => [sizeOf(m), 0, 0, sizeOf(m), 0, 0]

/** How many stretches a line is drawn in for each time it goes round. */
const DRAWN = 160

/** A line in space up to a share of it, to be shown. */
function drawn(line: SpaceLine, m: Matrix, to: number): [number, number, number][] {
  const count = Math.ceil(DRAWN * Math.max(1, to))
  return Array.from({ length: count + 1 }, (_, i) => {
    const [x, y, z] = line.at((line.length * Math.max(1, to) * i) / count).at
    return apply(m, x, y, z)
  })
}

/** A matrix in the plane of the letters. */
const inPlane = (m: Matrix): Affine => [m[0], m[4], m[1], m[5], m[3], m[7]] as unknown as Affine

/** Copies one after another, a hair apart so that they stay copies. */
function repeated(solid: Solid, copies: number, length: number): Solid {
  const pitch = (Math.ceil((length + 0.01) / solid.lattice) + 1) * solid.lattice
  return joinSolids(Array.from({ length: copies }, (_, i) => transformed(solid, [1, 0, 0, i * pitch, 0, 1, 0, 0, 0, 0, 1, 0])))
}
