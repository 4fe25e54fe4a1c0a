import { z } from 'zod'
import { meta } from '../../meta'
import { voxelFields } from '../../shared/voxel-fields'

export const rebuildParams = z.object({
  ...voxelFields,
  way: z
    .enum(['sharp', 'smooth'])
    .default('sharp')
    .meta(meta({ title: 'Edges', labels: ['Sharp', 'Soft'] })),
})
