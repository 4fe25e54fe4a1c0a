import { z } from 'zod'
import { meta } from '../../meta'
import { millimetres } from '../../shared/lengths'
import { voxelFields } from '../../shared/voxel-fields'

export const hollowParams = z.object({
  wall: millimetres('The wall', 0.1, 200)
    .default(1.6)
    .meta(meta({ title: 'Wall', unit: 'mm', step: 0.2, most: 10 })),
  drains: z
    .enum(['none', 'below', 'behind'])
    .default('none')
    .meta(
      meta({
        title: 'Drain holes',
        labels: ['None', 'Below', 'Behind'],
        description: 'One to each cavity at its lowest place, down through its foot or out through the back, so that resin or powder runs out.',
      }),
    ),
  drain: millimetres('The drain hole', 0.2, 100)
    .default(2)
    .meta(meta({ title: 'Hole', unit: 'mm', step: 0.5, when: { field: 'drains', is: ['below', 'behind'] } })),
  aside: z
    .number('The shift must be a number.')
    .min(-1000)
    .max(1000)
    .default(0)
    .meta(meta({ title: 'Moved aside', unit: 'mm', step: 0.5, pull: 'right', when: { field: 'drains', is: ['below', 'behind'] } })),
  ...voxelFields,
})
