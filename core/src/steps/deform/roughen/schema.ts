import { z } from 'zod'
import { meta } from '../../meta'
import { seedParam } from '../../shared/seed'
import { millimetres } from '../../shared/lengths'
import { maskParam } from '../../shared/mask-fields'

export const roughenParams = z.object({
  height: millimetres('The height', 0, 200)
    .default(0.8)
    .meta(
      meta({
        title: 'Height',
        unit: 'mm',
        step: 0.1,
        tried: true,
        most: 6,
        strengths: [0.2, 0.5, 1, 1.8, 3],
        description: 'How far the surface comes out and goes in.',
      }),
    ),
  scale: millimetres('The size of the spots', 0.2, 1000)
    .default(6)
    .meta(meta({ title: 'Spots', unit: 'mm', step: 0.5, tried: true, most: 40 })),
  detail: z
    .int('The detail must be a whole number.')
    .min(1)
    .max(5, 'At most 5 sizes one upon another.')
    .default(2)
    .meta(meta({ title: 'Detail', step: 1, description: 'How many sizes of spots, each half the one before.' })),
  way: z
    .enum(['normal', 'forward', 'up', 'right'])
    .default('normal')
    .meta(meta({ title: 'Moved', labels: ['Off the surface', 'To and fro', 'Up and down', 'Sideways'] })),
  seed: seedParam({ description: 'Another number is another roughness of the same kind.' }),
  strength: z
    .number('The strength must be a number.')
    .min(0)
    .max(100)
    .default(100)
    .meta(meta({ title: 'Strength', unit: '%', step: 5, tried: true })),
  mask: maskParam,
})
