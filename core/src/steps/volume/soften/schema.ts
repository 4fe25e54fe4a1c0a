import { z } from 'zod'
import { FILTERS } from '../../../volume/filter-names'
import { meta } from '../../meta'
import { millimetres } from '../../shared/lengths'
import { maskParam } from '../../shared/mask-fields'
import { voxelFields } from '../../shared/voxel-fields'

export const softenParams = z.object({
  amount: millimetres('The amount', 0.01, 200)
    .default(0.8)
    .meta(meta({ title: 'Amount', unit: 'mm', step: 0.1, tried: true, most: 10, description: 'How far round an edge the softness reaches.' })),
  how: z
    .enum(FILTERS)
    .default('gaussian')
    .meta(
      meta({
        title: 'How',
        labels: ['Evenly', 'Broadly', 'Keeping corners', 'As soap film draws in'],
        description: 'A Gaussian, the mean, the median, or mean curvature flow.',
      }),
    ),
  keepVolume: z
    .boolean()
    .default(false)
    .meta(meta({ title: 'Keep the volume' })),
  mask: maskParam,
  ...voxelFields,
})
