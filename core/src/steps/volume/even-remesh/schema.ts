import { z } from 'zod'
import { meta } from '../../meta'
import { millimetres } from '../../shared/lengths'

export const evenParams = z.object({
  edge: millimetres('The side', 0.05, 200)
    .default(1.5)
    .meta(meta({ title: 'Sides', unit: 'mm', step: 0.1, tried: true, most: 10, description: 'How long the sides of the triangles are.' })),
  fit: z
    .enum(['one', 'bend'])
    .default('one')
    .meta(meta({ title: 'Length', labels: ['The same all over', 'Shorter where it bends'] })),
  least: millimetres('The shortest side', 0.02, 200)
    .default(0.4)
    .meta(meta({ title: 'Not below', unit: 'mm', step: 0.1, when: { field: 'fit', is: ['bend'] } })),
  within: millimetres('The tolerance', 0.0005, 20)
    .default(0.02)
    .meta(
      meta({
        title: 'Within',
        unit: 'mm',
        step: 0.005,
        description: 'How far triangles may stand off the bent surface.',
        when: { field: 'fit', is: ['bend'] },
      }),
    ),
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
