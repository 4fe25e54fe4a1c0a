import { z } from 'zod'
import { pieceReference } from '../../../document/piece-reference'
import { FRAMES } from '../../../outline/line-frames'
import { meta } from '../../meta'
import { percentOf } from '../../shared/axes'
import { curvePoints } from '../../shared/curve-along'
import { deformFields } from '../../shared/deform-fields'

export const runAlongParams = z.object({
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
  end: percentOf('The end', 0, 2000)
    .default(100)
    .meta(
      meta({
        title: 'End',
        unit: '%',
        step: 5,
        description: 'Of the line; a closed one goes on above 100.',
        when: { field: 'fit', is: ['fitted', 'repeated'] },
      }),
    ),
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
  rise: curvePoints('The rise', -10_000, 10_000)
    .default([
      [0, 0],
      [1, 0],
    ])
    .meta(meta({ title: 'Rise', unit: 'mm', step: 1, holds: 'curve along', most: 100, description: 'Off the line’s plane, from its start to its end.' })),
  frames: z
    .enum(FRAMES)
    .default('least-twist')
    .meta(meta({ title: 'On slopes', labels: ['Turned as little as can be', 'Kept level'], advanced: true })),
  banking: curvePoints('The banking', -3600, 3600)
    .default([
      [0, 0],
      [1, 0],
    ])
    .meta(meta({ title: 'Banking', unit: '°', step: 5, holds: 'curve along', most: 180, advanced: true, description: '90° stands the piece up on the line.' })),
  size: curvePoints('The size', 1, 400)
    .default([
      [0, 100],
      [1, 100],
    ])
    .meta(meta({ title: 'Size', unit: '%', step: 5, holds: 'curve along', most: 200, advanced: true })),
  ...deformFields,
})
