import { z } from 'zod'
import { meta } from '../../meta'
import { seedParam } from '../../shared/seed'
import { curvePoints } from '../../shared/curve-along'
import { millimetres } from '../../shared/lengths'

const percent = (title: string, fallback: number, description?: string) =>
  z
    .number(`${title} must be a number.`)
    .min(0, `${title} is at least 0 %.`)
    .max(100, `${title} is at most 100 %.`)
    .default(fallback)
    .meta(meta({ title, unit: '%', step: 5, ...(description ? { description } : {}) }))

export const brushParams = z.object({
  along: z
    .enum(['letters', 'strokes', 'both'])
    .default('both')
    .meta(meta({ title: 'Along', labels: ['Middles of areas', 'Drawn strokes', 'Both'] })),
  by: z
    .enum(['own', 'brush'])
    .default('own')
    .meta(meta({ title: 'Width by', labels: ['The letter’s strokes', 'The brush'], when: { field: 'along', is: ['letters', 'both'] } })),
  width: millimetres('The width', 0.2, 300)
    .default(5)
    .meta(
      meta({
        title: 'Width of the brush',
        unit: 'mm',
        step: 0.5,
        pull: 'right',
        pullBy: 2,
        description: 'Of drawn strokes, and of letters when they go by the brush.',
      }),
    ),
  share: z
    .number('The share must be a number.')
    .min(10, 'A brush takes at least 10 % of a stroke.')
    .max(400, 'A brush takes at most 400 % of a stroke.')
    .default(110)
    .meta(meta({ title: 'Of the letter’s strokes', unit: '%', step: 5, when: { field: 'by', is: ['own'] } })),
  height: millimetres('The height', 0.05, 100)
    .default(1.5)
    .meta(
      meta({
        title: 'Height',
        unit: 'mm',
        step: 0.25,
        pull: 'forward',
        pullBy: 'scale',
        strengths: [0.5, 1, 1.5, 2.5, 4],
        description: 'Of the paint where it is thickest.',
      }),
    ),
  bristles: z
    .int('Ridges come in whole numbers.')
    .min(1, 'A brush leaves at least one ridge.')
    .max(40, 'At most 40 ridges.')
    .default(6)
    .meta(meta({ title: 'Ridges', step: 1, description: 'That bristles leave side by side.' })),
  depth: percent('Ridges’ depth', 55),
  uneven: percent('Uneven borders', 12),
  pointed: z
    .number('The length of the points must be a number.')
    .min(0)
    .max(20, 'Points are 20 widths long at most.')
    .default(1)
    .meta(meta({ title: 'Pointed ends', unit: '× width', step: 0.25, description: '0 ends roundly.' })),
  lift: millimetres('The lift', 0, 100)
    .default(0)
    .meta(meta({ title: 'Lifted end', unit: 'mm', step: 0.5, description: 'How far the end of each stroke rises off the ground.' })),
  size: curvePoints('The size', 5, 300)
    .default([
      [0, 90],
      [0.35, 105],
      [1, 85],
    ])
    .meta(meta({ title: 'Size along the stroke', unit: '%', step: 5, holds: 'curve along', most: 200 })),
  bank: curvePoints('The banking', -60, 60)
    .default([
      [0, 0],
      [1, 0],
    ])
    .meta(meta({ title: 'Banking', unit: '°', step: 5, holds: 'curve along', most: 45 })),
  drawn: percent('Drawn so far', 100, 'The strokes are painted one after another; key it to write them on.'),
  seed: seedParam(),
})
