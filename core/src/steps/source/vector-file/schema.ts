import { z } from 'zod'
import { meta } from '../../meta'

export const vectorFileParams = z.object({
  file: z
    .object({ sha256: z.string().regex(/^([0-9a-f]{64})?$/), name: z.string().max(200) })
    .default({ sha256: '', name: '' })
    .meta(meta({ title: 'File', holds: 'drawing file' })),
  sizing: z
    .enum(['scale', 'width', 'height'])
    .default('scale')
    .meta(meta({ title: 'Size', labels: ['By percent', 'By width', 'By height'] })),
  scale: z
    .number('The scale must be a number.')
    .min(0.1, 'The scale must be at least 0.1 %.')
    .max(100_000)
    .default(100)
    .meta(meta({ title: 'Scale', unit: '%', step: 5, when: { field: 'sizing', is: ['scale'] } })),
  width: z
    .number('The width must be a number.')
    .min(0.5, 'The width must be at least 0.5 mm.')
    .max(20_000, 'The width can be at most 20 m.')
    .default(60)
    .meta(meta({ title: 'Width', unit: 'mm', step: 1, when: { field: 'sizing', is: ['width'] } })),
  height: z
    .number('The height must be a number.')
    .min(0.5, 'The height must be at least 0.5 mm.')
    .max(20_000, 'The height can be at most 20 m.')
    .default(40)
    .meta(meta({ title: 'Height', unit: 'mm', step: 1, when: { field: 'sizing', is: ['height'] } })),
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

export type VectorFileParams = z.infer<typeof vectorFileParams>
