import { z } from 'zod'
import { meta } from '../../meta'
import { groundField } from '../../shared/ground-field'
import { millimetres } from '../../shared/lengths'
import { byHandParam, holeFields, powerField, unitFields } from '../../shared/repeat-fields'

export const alongParams = z.object({
  along: z
    .enum(['both', 'outline', 'strokes'])
    .default('both')
    .meta(meta({ title: 'Along', labels: ['Outlines and drawn lines', 'Outlines', 'Drawn lines'] })),
  ...unitFields,
  pitch: millimetres('The spacing', 0.1, 5000)
    .default(8)
    .meta(
      meta({
        title: 'Spacing',
        unit: 'mm',
        step: 0.5,
        pull: 'right',
        strengths: [5, 6, 8, 12, 20],
        description: 'From one to the next, fitted evenly to each line.',
      }),
    ),
  inset: z
    .number('The inset must be a number.')
    .min(-500)
    .max(500)
    .default(3)
    .meta(
      meta({
        title: 'Inside the outline by',
        unit: 'mm',
        step: 0.5,
        when: { field: 'along', is: ['both', 'outline'] },
        description: 'Below nought it is outside.',
      }),
    ),
  corners: z
    .boolean()
    .default(true)
    .meta(meta({ title: 'One in every corner' })),
  ends: millimetres('The distance', 0, 5000)
    .default(0)
    .meta(meta({ title: 'Free at the ends', unit: 'mm', step: 0.5, when: { field: 'along', is: ['both', 'strokes'] } })),
  facing: z
    .enum(['along', 'upright'])
    .default('along')
    .meta(meta({ title: 'Facing', labels: ['Along the line', 'Upright'] })),
  on: groundField,
  ...holeFields,
  power: powerField,
  hand: byHandParam,
})
