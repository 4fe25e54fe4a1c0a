import { z } from 'zod'
import { meta } from '../../meta'
import { edgeParams } from '../../shared/edge-fields'
import { wordsParam } from '../../shared/join-fields'
import { layingFields } from '../../shared/laying-fields'

export const raiseLetteringParams = z.object({
  words: wordsParam,
  ...layingFields,
  height: z
    .number('The height must be a number.')
    .min(0.05, 'The height must be at least 0.05 mm.')
    .max(1000)
    .default(3)
    .meta(meta({ title: 'Height', unit: 'mm', step: 0.5, pull: 'forward', description: 'Over the face the words stand on.' })),
  front: edgeParams.prefault({ profile: 'chamfer', inset: 0.4, height: 0.4 }).meta(meta({ title: 'Edge', holds: 'edge profile' })),
  fillet: z
    .number('The fillet must be a number.')
    .min(0)
    .max(50)
    .default(0)
    .meta(meta({ title: 'Fillet at the foot', unit: 'mm', step: 0.2, description: 'A hollow round where the letters meet the piece.' })),
  sunk: z
    .number('How deep they reach in must be a number.')
    .min(0.01, 'They must reach in by at least 0.01 mm, or nothing would hold them.')
    .max(500)
    .default(0.5)
    .meta(meta({ title: 'Sunk in', unit: 'mm', step: 0.1, description: 'So far they reach into the piece.', advanced: true })),
})
