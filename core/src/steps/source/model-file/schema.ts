import { z } from 'zod'
import { meta } from '../../meta'
import { voxelFields } from '../../shared/voxel-fields'

export const modelParams = z.object({
  file: z
    .object({ sha256: z.string().regex(/^([0-9a-f]{64})?$/), name: z.string().max(200) })
    .default({ sha256: '', name: '' })
    .meta(meta({ title: 'File', holds: 'model file' })),
  unit: z
    .enum(['mm', 'cm', 'm', 'inch'])
    .default('mm')
    .meta(
      meta({
        title: 'Its numbers are',
        labels: ['Millimetres', 'Centimetres', 'Metres', 'Inches'],
        description: 'Of STL, OBJ and PLY; other files say it themselves.',
      }),
    ),
  up: z
    .enum(['y', 'z'])
    .default('y')
    .meta(meta({ title: 'Stands as', labels: ['It is', 'Z is up'] })),
  scale: z
    .number('The scale must be a number.')
    .min(0.1, 'The scale must be at least 0.1 %.')
    .max(100_000)
    .default(100)
    .meta(meta({ title: 'Scale', unit: '%', step: 5 })),
  ground: z
    .boolean()
    .default(true)
    .meta(meta({ title: 'On the ground, in the middle' })),
  repair: z
    .enum(['off', 'on', 'rebuild'])
    .default('off')
    .meta(
      meta({
        title: 'Repair',
        labels: ['As it is', 'Repaired', 'Rebuilt'],
        description:
          'Repaired: closes holes and seams, turns triangles the right way, leaves out repeated ones and makes one of bodies that pass through each other. Rebuilt: made anew from its volume, whatever is broken in it.',
      }),
    ),
  fit: voxelFields.fit.meta(meta({ title: 'Voxels', labels: ['Fitted to the model', 'As given'], when: { field: 'repair', is: ['rebuild'] } })),
  voxel: voxelFields.voxel.meta(meta({ title: 'Voxel', unit: 'mm', step: 0.1, when: { field: 'fit', is: ['given'] } })),
})
