import { z } from 'zod'
import { SHIPPED_FACES } from '../../../fonts/catalogue'
import { meta } from '../meta'

export const MAX_CHARACTERS = 2000

export const fontReference = z.object({
  sha256: z.string().regex(/^[0-9a-f]{64}$/),
  name: z.string().max(200),
})

export const letteringParams = z.object({
  text: z
    .string()
    .max(MAX_CHARACTERS, `The text is too long: Kelvar sets at most ${MAX_CHARACTERS.toLocaleString('en')} characters in one piece.`)
    .default('Kelvar')
    .meta(meta({ title: 'Words', control: 'text' })),
  font: fontReference.default({ sha256: SHIPPED_FACES[0].sha256, name: SHIPPED_FACES[0].name }).meta(meta({ title: 'Face', control: 'font' })),
  axes: z
    .record(z.string().length(4), z.number())
    .default({})
    .meta(meta({ title: 'Variation', control: 'axes' })),
  size: z
    .number('The cap height must be a number.')
    .min(1, 'The cap height must be at least 1 mm.')
    .max(2000, 'The cap height can be at most 2,000 mm.')
    .default(40)
    .meta(meta({ title: 'Cap height', unit: 'mm', step: 1 })),
  align: z
    .enum(['left', 'centre', 'right'])
    .default('centre')
    .meta(meta({ title: 'Lines', labels: ['Left', 'Centred', 'Right'] })),
  tracking: z
    .number()
    .min(-500)
    .max(2000)
    .default(0)
    .meta(meta({ title: 'Tracking', unit: '‰ em', step: 5, description: 'Space added between all letters, in thousandths of the em.' })),
  leading: z
    .number()
    .min(30)
    .max(400)
    .default(100)
    .meta(meta({ title: 'Leading', unit: '%', step: 5, description: 'Distance between lines, of what the face asks for.' })),
  overlaps: z
    .enum(['unite', 'apart'])
    .default('unite')
    .meta(meta({ title: 'Overlaps', labels: ['Unite', 'Keep apart'], description: 'Letters that overlap become one shape, or stay separate.' })),
  kerning: z
    .boolean()
    .default(true)
    .meta(meta({ title: 'Kerning', advanced: true })),
  ligatures: z
    .boolean()
    .default(true)
    .meta(meta({ title: 'Ligatures', advanced: true })),
})

export type LetteringParams = z.infer<typeof letteringParams>
