import { z } from 'zod'
import { meta } from '../../meta'
import { millimetres } from '../../shared/lengths'
import { maskParam } from '../../shared/mask-fields'
import { voxelFields } from '../../shared/voxel-fields'

export const growParams = z.object({
  how: z
    .enum(['grow', 'shrink', 'close', 'open'])
    .default('grow')
    .meta(
      meta({
        title: 'How',
        labels: ['Grow', 'Shrink', 'Close gaps', 'Open'],
        description: 'Close gaps grows and shrinks again, so that gaps stay filled; Open shrinks and grows, so that what is thin stays away.',
      }),
    ),
  by: millimetres('The distance', 0.01, 500)
    .default(0.5)
    .meta(meta({ title: 'By', unit: 'mm', step: 0.1, tried: true, most: 10 })),
  mask: maskParam,
  ...voxelFields,
})
