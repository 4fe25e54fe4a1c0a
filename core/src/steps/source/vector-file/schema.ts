import { z } from 'zod'
import { meta } from '../../meta'

export const vectorFileParams = z.object({
  file: z
    .object({ sha256: z.string().regex(/^([0-9a-f]{64})?$/), name: z.string().max(200) })
    .default({ sha256: '', name: '' })
    .meta(meta({ title: 'File', holds: 'drawing file' })),
  scale: z
    .number('The scale must be a number.')
    .min(0.1, 'The scale must be at least 0.1 %.')
    .max(100_000)
    .default(100)
    .meta(meta({ title: 'Scale', unit: '%', step: 5 })),
  overlaps: z
    .enum(['visible', 'keep'])
    .default('visible')
    .meta(
      meta({
        title: 'Overlaps',
        labels: ['Cut to what is seen', 'Keep whole'],
        description: 'What lies under another colour is cut away, or stays for a relief in layers.',
      }),
    ),
  gap: z
    .number('The gap must be a number.')
    .min(0)
    .max(50)
    .default(0.06)
    .meta(
      meta({
        title: 'Gap',
        unit: 'mm',
        step: 0.02,
        description: 'Air between neighbouring colours, so that their solids do not share walls; from 0.06 mm on they never touch.',
        when: { field: 'overlaps', is: ['visible'] },
      }),
    ),
})
