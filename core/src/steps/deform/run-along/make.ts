import { ArcLength } from '../../../outline/arc-length'
import type { Affine } from '../../../outline/affine'
import { placedPaths } from '../../../outline/outline'
import { type Path, reversePath, transformPath } from '../../../outline/path'
import { joinSolids, type Matrix, transformed } from '../../../solid/operations'
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
  const moved = matrix ? transformPath(found, inPlane(matrix)) : found
  const path = params.other ? reversePath(moved) : moved
  const whole = new ArcLength(path).length
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
  })
}

const MOST_COPIES = 200

/** A matrix in the plane of the letters. */
const inPlane = (m: Matrix): Affine => [m[0], m[4], m[1], m[5], m[3], m[7]] as unknown as Affine

/** Copies one after another, a hair apart so that they stay copies. */
function repeated(solid: Solid, copies: number, length: number): Solid {
  const pitch = (Math.ceil((length + 0.01) / solid.lattice) + 1) * solid.lattice
  return joinSolids(Array.from({ length: copies }, (_, i) => transformed(solid, [1, 0, 0, i * pitch, 0, 1, 0, 0, 0, 0, 1, 0])))
}
