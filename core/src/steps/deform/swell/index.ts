import { z } from 'zod'
import { meta, plain } from '../../meta'
import { displaceInStep, sideFor } from '../../shared/displacing'
import { millimetres } from '../../shared/lengths'
import { maskOf } from '../../shared/masks'
import { defineStep } from '../../step'

const swellParams = z.object({
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

export const swell = defineStep({
  kind: 'swell',
  version: 1,
  family: 'Deform',
  title: 'Swell',
  summary: 'Moves the surface out along its normals as far as a mask says: cushions, puffs, dents.',
  takes: ['solid'],
  gives: 'solid',
  params: swellParams,
  roughly: true,
  describe: ({ by, mask }) => `${plain(Math.abs(by))} mm ${by < 0 ? 'in' : 'out'}${mask.list.length > 0 ? ', by a mask' : ''}`,
  evaluate: (input, { by, fit, edge, strength, mask }, context) =>
    displaceInStep(input, context, {
      title: 'Swell',
      mask,
      strength: strength / 100,
      edge: fit === 'given' ? edge : sideFor(input),
      along: 'normal',
      by: () => by,
      atMost: Math.abs(by),
      main: { field: 'by', value: by },
    }),
})
