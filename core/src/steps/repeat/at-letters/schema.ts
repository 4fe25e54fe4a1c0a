import { z } from 'zod'
import { meta } from '../../meta'
import { byHandParam, powerField, unitFields } from '../../shared/repeat-fields'

const finite = z.number('It must be a number.').min(-10_000).max(10_000)

export const atLettersParams = z.object({
  by: z
    .enum(['letter', 'word', 'line'])
    .default('letter')
    .meta(meta({ title: 'One for each', labels: ['Letter', 'Word', 'Line'] })),
  ...unitFields,
  across: z
    .enum(['left', 'middle', 'right'])
    .default('middle')
    .meta(meta({ title: 'Across', labels: ['At its left', 'At its middle', 'At its right'] })),
  up: z
    .enum(['bottom', 'middle', 'top'])
    .default('top')
    .meta(meta({ title: 'Up', labels: ['At its foot', 'At its middle', 'At its top'] })),
  depth: z
    .enum(['back', 'middle', 'front'])
    .default('front')
    .meta(meta({ title: 'In depth', labels: ['At its back', 'Halfway', 'At its front'] })),
  right: finite.default(0).meta(meta({ title: 'Further right', unit: 'mm', step: 0.5 })),
  higher: finite.default(0).meta(meta({ title: 'Further up', unit: 'mm', step: 0.5 })),
  power: powerField,
  hand: byHandParam,
})
