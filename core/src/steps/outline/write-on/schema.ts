import { z } from 'zod'
import { meta } from '../../meta'

export const writeOnParams = z.object({
  written: z
    .number('How much is written must be a number.')
    .min(0, 'Nothing is written at 0 %.')
    .max(100, 'All is written at 100 %.')
    .default(60)
    .meta(
      meta({
        title: 'Written so far',
        unit: '%',
        step: 5,
        strengths: [20, 40, 60, 80, 100],
        description: 'Of the way the pen goes; key it to write the words on.',
      }),
    ),
  by: z
    .enum(['text', 'letter'])
    .default('text')
    .meta(meta({ title: 'Letters', labels: ['One after another', 'All at once'] })),
  backwards: z
    .boolean()
    .default(false)
    .meta(meta({ title: 'From the last to the first' })),
})
