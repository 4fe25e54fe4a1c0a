import { z } from 'zod'
import { CAPS, JOINS } from '../../../outline/stroke-styles'
import { meta } from '../../meta'

export const strokeToOutlineParams = z.object({
  width: z
    .number('The width must be a number.')
    .min(0.05, 'A stroke must be at least 0.05 mm wide.')
    .max(500, 'A stroke can be at most 500 mm wide.')
    .default(3)
    .meta(meta({ title: 'Width', unit: 'mm', step: 0.25 })),
  cap: z
    .enum(CAPS)
    .default('round')
    .meta(meta({ title: 'Ends', labels: ['Flat', 'Round', 'Square'] })),
  join: z
    .enum(JOINS)
    .default('round')
    .meta(meta({ title: 'Corners', labels: ['Mitre', 'Round', 'Bevel'] })),
  dash: z
    .number('The dash must be a number.')
    .min(0)
    .max(1000)
    .default(0)
    .meta(meta({ title: 'Dashes', unit: 'mm', step: 1, description: 'Length of dashes; 0 for a solid line.' })),
  space: z
    .number('The space must be a number.')
    .min(0.1)
    .max(1000)
    .default(4)
    .meta(meta({ title: 'Between', unit: 'mm', step: 1, description: 'Space between dashes.' })),
})
