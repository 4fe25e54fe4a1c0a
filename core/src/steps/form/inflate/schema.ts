import { z } from 'zod'
import { meta } from '../../meta'
import { curvesWithin, millimetres } from '../../shared/lengths'

export const inflateParams = z.object({
  height: millimetres('The height', 0.1, 1000)
    .default(6)
    .meta(meta({ title: 'Height', unit: 'mm', step: 0.5, pull: 'forward', description: 'How far each side swells.' })),
  roundness: z
    .number('The roundness must be a number.')
    .min(0)
    .max(1)
    .default(1)
    .meta(meta({ title: 'Cushion to dome', tried: true, step: 0.05 })),
  sides: z
    .enum(['both', 'front', 'back'])
    .default('both')
    .meta(meta({ title: 'Swells', labels: ['Both sides', 'Front', 'Back'] })),
  measure: z
    .enum(['letter', 'word'])
    .default('word')
    .meta(
      meta({
        title: 'Full height',
        labels: ['In every letter', 'In the widest'],
        description: 'Wide strokes swell further than narrow ones, or all letters alike.',
      }),
    ),
  wall: millimetres('The wall', 0, 1000)
    .default(0)
    .meta(meta({ title: 'Wall', unit: 'mm', step: 0.5, description: 'Straight part between front and back.' })),
  rim: millimetres('The rim', 0, 200)
    .default(0)
    .meta(meta({ title: 'Pinned rim', unit: 'mm', step: 0.25, description: 'Flat along the outline, like the seam of a balloon.' })),
  division: millimetres('The division', 0, 100)
    .default(0)
    .meta(meta({ title: 'Division', unit: 'mm', step: 0.25, advanced: true, description: 'Sides of the triangles; 0 fits them to the strokes.' })),
  tolerance: curvesWithin,
})
