import { z } from 'zod'
import { nodePath } from '../../../outline/node-path'
import { meta } from '../../meta'

export const sliceParams = z.object({
  cut: z
    .enum(['straight', 'wave', 'zigzag', 'drawn'])
    .default('straight')
    .meta(meta({ title: 'Cuts', labels: ['Straight', 'Waves', 'Zigzag', 'Drawn lines'] })),
  count: z
    .number('The number of cuts must be a number.')
    .int('The number of cuts must be a whole number.')
    .min(1, 'There must be one cut at least.')
    .max(100, 'There can be 100 cuts at most.')
    .default(1)
    .meta(
      meta({
        title: 'How many',
        step: 1,
        description: 'Evenly spaced over the height of the outline.',
        when: { field: 'cut', is: ['straight', 'wave', 'zigzag'] },
      }),
    ),
  angle: z
    .number('The angle must be a number.')
    .min(-180)
    .max(180)
    .default(0)
    .meta(
      meta({
        title: 'Angle',
        unit: '°',
        step: 5,
        description: 'Of the cuts; 0 runs along the line of letters.',
        when: { field: 'cut', is: ['straight', 'wave', 'zigzag'] },
      }),
    ),
  shift: z
    .number('The shift must be a number.')
    .min(-2000)
    .max(2000)
    .default(0)
    .meta(meta({ title: 'Shift', unit: 'mm', step: 1, description: 'Moves all cuts across.', when: { field: 'cut', is: ['straight', 'wave', 'zigzag'] } })),
  amplitude: z
    .number('The height of the waves must be a number.')
    .min(0)
    .max(500)
    .default(4)
    .meta(meta({ title: 'Height', unit: 'mm', step: 0.5, when: { field: 'cut', is: ['wave', 'zigzag'] } })),
  length: z
    .number('The length of the waves must be a number.')
    .min(1, 'A wave must be 1 mm long at least.')
    .max(2000)
    .default(40)
    .meta(meta({ title: 'Length', unit: 'mm', step: 1, when: { field: 'cut', is: ['wave', 'zigzag'] } })),
  gap: z
    .number('The gap must be a number.')
    .min(0, 'The gap cannot be below 0 mm.')
    .max(200)
    .default(1)
    .meta(meta({ title: 'Gap', unit: 'mm', step: 0.25 })),
  lines: z
    .array(nodePath)
    .max(24, 'There can be 24 drawn lines at most.')
    .default([])
    .meta(meta({ title: 'Lines', drawn: true, when: { field: 'cut', is: ['drawn'] } })),
})
