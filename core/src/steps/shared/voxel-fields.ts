import { z } from 'zod'
import { meta } from '../meta'
import { millimetres } from './lengths'

/** How fine a step works in volume: fitted to the piece, or as given. */
export const voxelFields = {
  fit: z
    .enum(['piece', 'given'])
    .default('piece')
    .meta(meta({ title: 'Voxels', labels: ['Fitted to the strokes', 'As given'], description: 'Fitted: a third of the thinner strokes.' })),
  voxel: millimetres('The voxel size', 0.01, 100)
    .default(1)
    .meta(meta({ title: 'Voxel', unit: 'mm', step: 0.1, when: { field: 'fit', is: ['given'] }, description: 'Sides of the even triangles that come out.' })),
}
