import { z } from 'zod'
import { meta } from '../../meta'
import { millimetres } from '../../shared/lengths'
import { maskOf } from '../../shared/mask-fields'

export const swellParams = z.object({
  by: z
    .number('The amount must be a number.')
    .min(-200)
    .max(200)
    .default(1.5)
    .meta(meta({ title: 'By', unit: 'mm', step: 0.1, pull: 'forward', description: 'Off the surface where the mask is whole; below nought into it.' })),
  fit: z
    .enum(['piece', 'given'])
    .default('piece')
    .meta(meta({ title: 'Sides', labels: ['Fitted to the piece', 'As given'], advanced: true })),
  edge: millimetres('The sides', 0.05, 100)
    .default(1)
    .meta(meta({ title: 'Sides up to', unit: 'mm', step: 0.1, advanced: true, when: { field: 'fit', is: ['given'] } })),
  strength: z
    .number('The strength must be a number.')
    .min(0)
    .max(100)
    .default(100)
    .meta(meta({ title: 'Strength', unit: '%', step: 5, tried: true })),
  mask: maskOf([{ by: 'distance', from: 0, to: 4 }]),
})
