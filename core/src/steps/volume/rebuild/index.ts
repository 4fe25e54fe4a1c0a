import { plain } from '../../meta'
import { defineStep } from '../../step'
import { rebuildParams } from './schema'

export const rebuild = defineStep(
  {
    kind: 'rebuild',
    version: 4,
    family: 'Volume',
    title: 'Rebuild',
    summary: 'Makes one sound solid of a broken model: open, turned, repeated or crossing triangles.',
    takes: ['solid'],
    gives: 'solid',
    params: rebuildParams,
    roughly: true,
    describe: ({ fit, voxel, way }) => `${fit === 'piece' ? 'Voxels fitted' : `${plain(voxel)} mm voxels`}, ${way === 'sharp' ? 'edges sharp' : 'edges soft'}`,
  },
  () => import('./make'),
)
