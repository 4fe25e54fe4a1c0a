import { z } from 'zod'
import { meta } from '../../meta'

export const offsetParams = z.object({
  distance: z
    .number('The distance must be a number.')
    .min(-500, 'An outline can be offset by 500 mm at most.')
    .max(500, 'An outline can be offset by 500 mm at most.')
    .default(2)
    .meta(meta({ title: 'Distance', unit: 'mm', step: 0.25, pull: 'right', description: 'Outwards; below zero inwards.' })),
  join: z
    .enum(['mitre', 'round', 'square'])
    .default('round')
    .meta(meta({ title: 'Corners', labels: ['Mitre', 'Round', 'Square'] })),
})
