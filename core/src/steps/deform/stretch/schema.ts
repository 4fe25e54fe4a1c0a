import { z } from 'zod'
import { AXES } from '../../../deform/space-map'
import { meta } from '../../meta'
import { deformFields } from '../../shared/deform-fields'

export const stretchParams = z.object({
  amount: z
    .number('The amount must be a number.')
    .min(-95, 'At most 95 % is taken away: something must be left.')
    .max(2000, 'It grows to 21 times its length at most.')
    .default(30)
    .meta(
      meta({
        title: 'Amount',
        unit: '%',
        step: 5,
        tried: true,
        most: 200,
        strengths: [-40, 20, 50, 100, 200],
        description: 'How much longer it becomes; below nought it is pressed together.',
      }),
    ),
  axis: z
    .enum(AXES)
    .default('along')
    .meta(meta({ title: 'Along', labels: ['The length', 'The height', 'The depth'] })),
  keepVolume: z
    .boolean()
    .default(false)
    .meta(meta({ title: 'Keep the volume' })),
  held: z
    .enum(['middle', 'start'])
    .default('middle')
    .meta(meta({ title: 'Held at', labels: ['The middle', 'The start'] })),
  ...deformFields,
})
