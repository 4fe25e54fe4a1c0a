import { z } from 'zod'
import { PATTERNS } from '../../../break/patterns'
import { STUFF_LABELS, STUFFS } from '../../../look/densities'
import { meta } from '../../meta'
import { seedParam } from '../../shared/seed'

const coordinate = z.number('It must be a number.').min(-10_000).max(10_000)

export const AT_SPOT = ['cluster', 'line', 'impact', 'glass']

export const shatterParams = z.object({
  pattern: z
    .enum(PATTERNS)
    .default('even')
    .meta(meta({ title: 'Cracks', labels: ['Even', 'About a spot', 'Along a line', 'By a blow', 'Long grain', 'Like glass', 'Like bricks', 'By letter'] })),
  pieces: z
    .int('The number of pieces must be a whole number.')
    .min(2, 'It takes at least 2 pieces.')
    .max(2000, 'At most 2,000 pieces.')
    .default(24)
    .meta(meta({ title: 'Pieces', step: 1, most: 200, when: { field: 'pattern', is: PATTERNS.filter((p) => p !== 'letter') as unknown as string[] } })),
  count: z
    .enum(['all', 'letter'])
    .default('all')
    .meta(
      meta({
        title: 'Counted',
        labels: ['In all', 'For each letter'],
        when: { field: 'pattern', is: ['even', 'grain', 'glass', 'bricks'] },
        description: 'For each letter: a letter breaks the same whatever is typed beside it.',
      }),
    ),
  point: z
    .tuple([coordinate, coordinate, coordinate])
    .nullable()
    .default(null)
    .meta(meta({ title: 'Spot', holds: 'spot on the piece', when: { field: 'pattern', is: AT_SPOT }, description: 'In the middle when none is picked.' })),
  reach: z
    .number('The reach must be a number.')
    .min(0.1, 'The reach must be at least 0.1 mm.')
    .max(10_000)
    .default(15)
    .meta(
      meta({ title: 'Reach', unit: 'mm', step: 1, when: { field: 'pattern', is: ['cluster', 'line', 'impact'] }, description: 'Pieces are small within it.' }),
    ),
  angle: z
    .number('The angle must be a number.')
    .min(-360)
    .max(360)
    .default(0)
    .meta(meta({ title: 'Direction', unit: '°', step: 5, when: { field: 'pattern', is: ['line', 'grain'] } })),
  long: z
    .number('The length must be a number.')
    .min(1, 'Splinters are at least as long as wide.')
    .max(30)
    .default(4)
    .meta(meta({ title: 'Splinters, times as long', step: 0.5, when: { field: 'pattern', is: ['grain'] } })),
  gap: z
    .number('The gap must be a number.')
    .min(0)
    .max(20)
    .default(0)
    .meta(meta({ title: 'Gap', unit: 'mm', step: 0.1, description: 'Between pieces; 0: they fit exactly.' })),
  rough: z
    .number('The roughness must be a number.')
    .min(0, 'The roughness goes from 0 to 100 %.')
    .max(100, 'The roughness goes from 0 to 100 %.')
    .default(0)
    .meta(meta({ title: 'Rough faces', unit: '%', step: 10, description: 'Both sides alike, so that they fit.' })),
  grain: z
    .number('The grain must be a number.')
    .min(0.2, 'The grain must be at least 0.2 mm.')
    .max(100)
    .default(3)
    .meta(meta({ title: 'Size of its grain', unit: 'mm', step: 0.5, advanced: true })),
  chips: z
    .number('The chips must be a number.')
    .min(0)
    .max(10)
    .default(0)
    .meta(meta({ title: 'Chipped edges', unit: 'mm', step: 0.1, description: 'So large are the chips that break off along the cracks, at most.' })),
  stuff: z
    .enum(STUFFS)
    .default('acrylic')
    .meta(meta({ title: 'Made of', labels: STUFF_LABELS, advanced: true, description: 'For what the pieces weigh.' })),
  seed: seedParam(),
})
