import { z } from 'zod'
import { pieceReference } from '../../../document/piece-reference'
import { ArcLength } from '../../../outline/arc-length'
import type { Affine } from '../../../outline/affine'
import { placedPaths } from '../../../outline/outline'
import { type Path, reversePath, transformPath } from '../../../outline/path'
import { joinSolids, type Matrix, transformed } from '../../../solid/operations'
import { type Solid, solidBounds } from '../../../solid/solid'
import { meta, plain } from '../../meta'
import { percentOf } from '../../shared/axes'
import { curvePoints } from '../../shared/curve-along'
import { deformFields, deformInStep } from '../../shared/deforming'
import { solidOf } from '../../shared/joining'
import { defineStep, failed } from '../../step'

const MOST_COPIES = 200

const runAlongParams = z.object({
  line: pieceReference
    .default({ piece: '' })
    .meta(
      meta({ title: 'Line', input: ['outline'], placed: true, description: 'A piece with a drawn, lettering or imported stroke; outlines serve as well.' }),
    ),
  number: z
    .int('The number must be a whole number.')
    .min(1)
    .max(10_000)
    .default(1)
    .meta(meta({ title: 'Which line', step: 1, description: 'Strokes first, the longest first.' })),
  fit: z
    .enum(['fitted', 'kept', 'repeated'])
    .default('fitted')
    .meta(meta({ title: 'Length', labels: ['Fitted to the line', 'As it is', 'Repeated'] })),
  start: percentOf('The start', 0, 100)
    .default(0)
    .meta(meta({ title: 'Start', unit: '%', step: 5, description: 'Of the line.' })),
  end: percentOf('The end', 0, 100)
    .default(100)
    .meta(meta({ title: 'End', unit: '%', step: 5, when: { field: 'fit', is: ['fitted', 'repeated'] } })),
  level: percentOf('The level', -500, 600)
    .default(0)
    .meta(meta({ title: 'On the line', unit: '%', step: 10, description: 'What of the piece’s height runs on the line; 0 is its foot.' })),
  offset: z
    .number('The offset must be a number.')
    .min(-10_000)
    .max(10_000)
    .default(0)
    .meta(meta({ title: 'Offset', unit: 'mm', step: 0.5, description: 'To the left of the line.' })),
  other: z
    .boolean()
    .default(false)
    .meta(meta({ title: 'From its other end' })),
  banking: curvePoints('The banking', -3600, 3600)
    .default([
      [0, 0],
      [1, 0],
    ])
    .meta(meta({ title: 'Banking', unit: '°', step: 5, holds: 'curve along', most: 180, advanced: true })),
  size: curvePoints('The size', 1, 400)
    .default([
      [0, 100],
      [1, 100],
    ])
    .meta(meta({ title: 'Size', unit: '%', step: 5, holds: 'curve along', most: 200, advanced: true })),
  ...deformFields,
})

/** A matrix in the plane of the letters. */
const inPlane = (m: Matrix): Affine => [m[0], m[4], m[1], m[5], m[3], m[7]] as unknown as Affine

export const runAlong = defineStep({
  kind: 'run-along',
  version: 1,
  family: 'Deform',
  title: 'Run along',
  summary: 'Bends the piece along a drawn line, fitted to it or repeated.',
  takes: ['solid'],
  gives: 'solid',
  params: runAlongParams,
  describe: ({ fit, offset }) =>
    `${{ fitted: 'Fitted to the line', kept: 'As long as it is', repeated: 'Repeated along the line' }[fit]}${offset === 0 ? '' : `, ${plain(offset)} mm off it`}`,
  async evaluate(input, params, context) {
    const [outline] = context.inputs.line ?? []
    if (outline?.kind !== 'outline')
      return failed('no-line', 'Run along needs a line to run along.', 'Choose a piece with a drawn stroke or an outline.', 'line')
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
  },
})

/** Copies one after another, a hair apart so that they stay copies. */
function repeated(solid: Solid, copies: number, length: number): Solid {
  const pitch = (Math.ceil((length + 0.01) / solid.lattice) + 1) * solid.lattice
  return joinSolids(Array.from({ length: copies }, (_, i) => transformed(solid, [1, 0, 0, i * pitch, 0, 1, 0, 0, 0, 0, 1, 0])))
}
