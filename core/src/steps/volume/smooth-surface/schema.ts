import { z } from 'zod'
import { meta } from '../../meta'
import { maskParam } from '../../shared/mask-fields'

export const smoothParams = z.object({
  rounds: z
    .number('The rounds must be a number.')
    .int('Rounds are counted whole.')
    .min(1)
    .max(200)
    .default(10)
    .meta(meta({ title: 'Rounds', step: 1, tried: true, most: 60 })),
  weights: z
    .enum(['cotangent', 'even'])
    .default('cotangent')
    .meta(
      meta({ title: 'Neighbours count', labels: ['By their angles', 'All alike'], description: 'By their angles: uneven triangles are not drawn together.' }),
    ),
  creases: z
    .number('The angle must be a number.')
    .min(1, 'Creases begin at 1° or more.')
    .max(180)
    .default(40)
    .meta(meta({ title: 'Creases from', unit: '°', step: 5, description: 'Sides that bend by more keep their line.' })),
  mask: maskParam,
})
