import { z } from 'zod'
import { FILLS } from '../../../repeat/fills'
import { meta } from '../../meta'
import { seedParam } from '../../shared/seed'
import { groundField } from '../../shared/ground-field'
import { millimetres } from '../../shared/lengths'
import { byHandParam, holeFields, powerField, unitFields } from '../../shared/repeat-fields'

export const fillParams = z.object({
  pattern: z
    .enum(FILLS)
    .default('middle')
    .meta(meta({ title: 'Pattern', labels: ['Down the middle of strokes', 'Rows', 'Honeycomb', 'Scattered dots'] })),
  ...unitFields,
  pitch: millimetres('The spacing', 0.1, 5000)
    .default(6)
    .meta(
      meta({
        title: 'Spacing',
        unit: 'mm',
        step: 0.5,
        pull: 'right',
        strengths: [4, 5, 6, 8, 12],
        description: 'From one to the next; fitted evenly along each stroke.',
      }),
    ),
  edge: millimetres('The distance', 0, 500)
    .default(0.5)
    .meta(meta({ title: 'Free at the edge', unit: 'mm', step: 0.25, description: 'Between a unit and the edge of the letter, at least.' })),
  rows: z
    .int('Rows come in whole numbers.')
    .min(1, 'At least one row.')
    .max(12, 'At most 12 rows.')
    .default(2)
    .meta(meta({ title: 'Rows side by side', step: 1, when: { field: 'pattern', is: ['middle'] }, description: 'At most; as many as a stroke has room for.' })),
  corners: z
    .boolean()
    .default(true)
    .meta(meta({ title: 'One in every corner', when: { field: 'pattern', is: ['middle'] } })),
  angle: z
    .number('The angle must be a number.')
    .min(-180)
    .max(180)
    .default(0)
    .meta(meta({ title: 'Rows turned by', unit: '°', step: 5, when: { field: 'pattern', is: ['rows', 'hexagons'] } })),
  seed: seedParam({ when: { field: 'pattern', is: ['dots'] } }),
  facing: z
    .enum(['upright', 'along'])
    .default('upright')
    .meta(meta({ title: 'Facing', labels: ['Upright', 'Along the stroke'], advanced: true })),
  on: groundField,
  ...holeFields,
  power: powerField,
  hand: byHandParam,
})
