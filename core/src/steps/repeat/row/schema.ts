import { z } from 'zod'
import { meta } from '../../meta'
import { millimetres } from '../../shared/lengths'
import { byHandParam, countOf } from '../../shared/repeat-fields'

export const rowParams = z.object({
  count: countOf('The number')
    .default(5)
    .meta(meta({ title: 'How many', step: 1 })),
  way: z
    .enum(['right', 'down', 'up', 'back', 'forward'])
    .default('right')
    .meta(meta({ title: 'Towards', labels: ['The right', 'Downwards', 'Upwards', 'The back', 'The viewer'] })),
  by: z
    .enum(['gap', 'pitch', 'over'])
    .default('gap')
    .meta(meta({ title: 'Spaced by', labels: ['A gap between them', 'From one to the next', 'The whole length'] })),
  gap: z
    .number('The gap must be a number.')
    .min(-5000)
    .max(5000)
    .default(5)
    .meta(meta({ title: 'Gap', unit: 'mm', step: 0.5, when: { field: 'by', is: ['gap'] } })),
  pitch: millimetres('The distance', 0.01, 10_000)
    .default(20)
    .meta(meta({ title: 'From one to the next', unit: 'mm', step: 1, when: { field: 'by', is: ['pitch'] } })),
  length: millimetres('The length', 0.01, 100_000)
    .default(200)
    .meta(
      meta({
        title: 'Whole length',
        unit: 'mm',
        step: 5,
        when: { field: 'by', is: ['over'] },
        description: 'From the beginning of the first to the end of the last.',
      }),
    ),
  aside: z
    .number('It must be a number.')
    .min(-1000)
    .max(1000)
    .default(0)
    .meta(meta({ title: 'Each further aside', unit: 'mm', step: 0.5, description: 'Steps of stairs: up for rows to the side, to the right for others.' })),
  turn: z
    .number('The turn must be a number.')
    .min(-360)
    .max(360)
    .default(0)
    .meta(meta({ title: 'Each further turned', unit: '°', step: 5 })),
  from: z
    .enum(['first', 'middle'])
    .default('first')
    .meta(meta({ title: 'Stays in place', labels: ['The first', 'The middle'] })),
  hand: byHandParam,
})
