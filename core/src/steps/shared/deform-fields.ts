import { z } from 'zod'
import { UNITS } from '../../deform/units'
import { meta } from '../meta'
import { millimetres } from './lengths'
import { maskAtRest } from './mask-fields'

/** What all deformations have in common. */
export const deformFields = {
  each: z
    .enum(UNITS)
    .default('whole')
    .meta(meta({ title: 'Taken', labels: ['Whole', 'By word', 'By letter'] })),
  strength: z
    .number('The strength must be a number.')
    .min(0, 'The strength is at least 0 %.')
    .max(100, 'The strength is at most 100 %.')
    .default(100)
    .meta(meta({ title: 'Strength', unit: '%', step: 5, tried: true })),
  mask: maskAtRest,
  within: millimetres('The tolerance', 0.002, 5)
    .default(0.03)
    .meta(
      meta({
        title: 'Exact within',
        unit: 'mm',
        step: 0.01,
        advanced: true,
        description: 'How far triangles may be off the curve; they are divided where, and only where, that needs it.',
      }),
    ),
}
