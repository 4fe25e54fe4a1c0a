import { z } from 'zod'
import { meta } from '../../meta'

export const centreLinesParams = z.object({
  keep: z
    .enum(['lines', 'both'])
    .default('lines')
    .meta(meta({ title: 'Keep', labels: ['Lines only', 'Lines and areas'] })),
  dots: z
    .boolean()
    .default(true)
    .meta(meta({ title: 'Dots as short lines', description: 'A round dot has no middle line of its own.' })),
  shortest: z
    .number('The shortest line must be a number.')
    .min(0, 'A line cannot be shorter than nothing.')
    .max(500)
    .default(0)
    .meta(meta({ title: 'Shortest', unit: 'mm', step: 0.5, description: 'Shorter lines are left out.' })),
})
