import { z } from 'zod'
import { meta, plain } from '../../meta'
import { throughVolume, voxelFields } from '../../shared/volumes'
import { defineStep } from '../../step'

const rebuildParams = z.object({
  ...voxelFields,
  way: z
    .enum(['sharp', 'smooth'])
    .default('sharp')
    .meta(meta({ title: 'Edges', labels: ['Sharp', 'Soft'] })),
})

export const rebuild = defineStep({
  kind: 'rebuild',
  version: 1,
  family: 'Volume',
  title: 'Rebuild',
  summary: 'Makes one sound solid of a broken model: open, turned, repeated or crossing triangles.',
  takes: ['solid'],
  gives: 'solid',
  params: rebuildParams,
  roughly: true,
  describe: ({ fit, voxel, way }) => `${fit === 'piece' ? 'Voxels fitted' : `${plain(voxel)} mm voxels`}, ${way === 'sharp' ? 'edges sharp' : 'edges soft'}`,
  evaluate: (input, params, context) => throughVolume(input, context, { title: 'Rebuild', params, way: params.way, partsMayChange: true }),
})
