import { z } from 'zod'
import { meta } from '../../meta'
import { millimetres } from '../../shared/lengths'

export const evenParams = z.object({
  edge: millimetres('The side', 0.05, 200)
    .default(1.5)
    .meta(meta({ title: 'Sides', unit: 'mm', step: 0.1, tried: true, most: 10, description: 'How long the sides of the triangles are, all over.' })),
  creases: z
    .number('The angle must be a number.')
    .min(1, 'Creases begin at 1° or more.')
    .max(180)
    .default(25)
    .meta(
      meta({
        title: 'Creases from',
        unit: '°',
        step: 5,
        description: 'Sides that bend by more stay where they are, as do borders between colours and letters.',
      }),
    ),
})
