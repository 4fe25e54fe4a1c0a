import { plain } from '../../meta'
import { defineStep } from '../../step'
import { remeshParams } from './schema'

export const voxelRemesh = defineStep(
  {
    kind: 'voxel-remesh',
    version: 3,
    family: 'Volume',
    title: 'Voxel remesh',
    summary: 'Takes the piece through a volume: one even, fine surface, its colours and words kept.',
    takes: ['solid'],
    gives: 'solid',
    params: remeshParams,
    roughly: true,
    describe: ({ fit, voxel, way, others }) =>
      `${fit === 'piece' ? 'Voxels fitted' : `${plain(voxel)} mm voxels`}, ${way === 'sharp' ? 'edges sharp' : 'edges soft'}${others.length > 0 ? `, with ${others.length === 1 ? 'one piece' : `${others.length} pieces`}` : ''}`,
  },
  () => import('./make'),
)
