import { z } from 'zod'
import { meta } from '../../meta'
import { edgeParams } from '../../shared/edge-fields'
import { curvesWithin, millimetres } from '../../shared/lengths'

export const tubeParams = z.object({
  radius: millimetres('The radius', 0.1, 200)
    .default(2)
    .meta(meta({ title: 'Radius', unit: 'mm', step: 0.25, pull: 'forward', pullBy: 'scale' })),
  section: z
    .enum(['round', 'square', 'profile'])
    .default('round')
    .meta(meta({ title: 'Section', labels: ['Round', 'Square', 'Profile'] })),
  profile: edgeParams
    .default({ profile: 'ogee', inset: 1.5, height: 1.5 })
    .meta(meta({ title: 'Profile of both sides', holds: 'edge profile', when: { field: 'section', is: ['profile'] } })),
  along: z
    .enum(['outlines', 'strokes', 'both'])
    .default('both')
    .meta(meta({ title: 'Along', labels: ['Outlines', 'Strokes', 'Both'] })),
  offset: z
    .number('The offset must be a number.')
    .min(-200, 'The bar can lie 200 mm further in at most.')
    .max(200, 'The bar can lie 200 mm further out at most.')
    .default(0)
    .meta(meta({ title: 'Offset', unit: 'mm', step: 0.25, description: 'How far outside the outline the bar runs; below zero inside.' })),
  bend: millimetres('The bend', 0, 200)
    .default(2)
    .meta(meta({ title: 'Corners bent by', unit: 'mm', step: 0.5, description: 'Radius the bar is bent by at corners; 0 mitres them.' })),
  gap: millimetres('The gap', 0, 500)
    .default(0)
    .meta(meta({ title: 'Gap', unit: 'mm', step: 0.5, description: 'Where an outline is left open, as neon is, with rounded ends.' })),
  gapAt: z
    .number('The place of the gap must be a number.')
    .min(0)
    .max(100)
    .default(0)
    .meta(meta({ title: 'Gap at', unit: '%', tried: true, step: 1, description: 'How far round the outline.' })),
  crossings: z
    .enum(['united', 'lifted'])
    .default('united')
    .meta(meta({ title: 'Where bars cross', labels: ['United', 'Lifted over'], when: { field: 'section', is: ['round'] } })),
  tolerance: curvesWithin,
})
