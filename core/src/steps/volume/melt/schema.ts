import { z } from 'zod'
import { meta } from '../../meta'
import { partnersParam } from '../../shared/join-fields'
import { millimetres } from '../../shared/lengths'
import { voxelFields } from '../../shared/voxel-fields'

const HOWS = ['together', 'out', 'overlap'] as const

const WITH_OTHERS = ['out', 'overlap']

export const meltParams = z.object({
  how: z
    .enum(HOWS)
    .default('together')
    .meta(meta({ title: 'How', labels: ['Its letters into one', 'Other pieces out of it', 'What they share'] })),
  others: partnersParam.meta(meta({ title: 'Piece', input: ['solid'], placed: true, when: { field: 'how', is: WITH_OTHERS } })),
  radius: millimetres('The radius', 0, 200)
    .default(2)
    .meta(meta({ title: 'Radius', unit: 'mm', step: 0.25, tried: true, most: 20, description: 'How far from each other they begin to flow together.' })),
  between: z
    .enum(['letters', 'layers', 'parts'])
    .default('letters')
    .meta(meta({ title: 'Between', labels: ['Letters', 'Layers', 'Loose parts'], when: { field: 'how', is: ['together'] } })),
  ...voxelFields,
})
