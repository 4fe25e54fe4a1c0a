import { z } from 'zod'
import { meta } from '../../meta'
import { partnersParam } from '../../shared/join-fields'
import { voxelFields } from '../../shared/voxel-fields'

export const remeshParams = z.object({
  ...voxelFields,
  way: z
    .enum(['smooth', 'sharp'])
    .default('smooth')
    .meta(meta({ title: 'Edges', labels: ['Soft', 'Sharp'], description: 'Sharp keeps edges and corners where they were.' })),
  others: partnersParam,
})
