import { z } from 'zod'
import { meta } from '../../meta'

export const simplifyParams = z.object({
  tolerance: z
    .number('The tolerance must be a number.')
    .min(0.002, 'The tolerance must be at least 0.002 mm.')
    .max(20, 'The tolerance can be at most 20 mm.')
    .default(0.1)
    .meta(meta({ title: 'Within', unit: 'mm', step: 0.05, description: 'Largest distance from the outline as it comes.' })),
  corner: z
    .number('The angle must be a number.')
    .min(5)
    .max(120)
    .default(25)
    .meta(meta({ title: 'Corners from', unit: '°', step: 5, description: 'A turn sharper than this stays a corner.' })),
})
