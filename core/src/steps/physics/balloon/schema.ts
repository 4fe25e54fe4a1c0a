import { z } from 'zod'
import { pieceReference } from '../../../document/piece-reference'
import { meta } from '../../meta'
import { maskOf } from '../../shared/mask-fields'
import { bounded, metreField, momentFields, windFields } from '../../shared/physics-fields'
import { seedParam } from '../../shared/seed'

export const balloonParams = z.object({
  ...momentFields(3, 4),
  skin: z
    .enum(['foil', 'rubber'])
    .default('foil')
    .meta(meta({ title: 'Skin', labels: ['Foil', 'Rubber'], description: 'Foil wrinkles at its seam, rubber stretches.' })),
  pressure: bounded('Pressure', 5, 400, 100, { unit: '%', step: 10, most: 200 }),
  stretch: bounded('Stretches by', 1, 60, 15, { unit: '%', step: 1, when: { field: 'skin', is: ['rubber'] }, description: 'About, where it is fullest.' }),
  creases: bounded('Creases', 0, 100, 50, { unit: '%', step: 5, description: 'The more, the sharper its wrinkles; thin strokes may cross themselves then.' }),
  edge: bounded('Triangles of', 0.2, 50, 1.5, {
    unit: 'mm',
    step: 0.25,
    most: 5,
    description: 'Their sides. Finer ones wrinkle more finely, and take longer.',
  }),
  tie: z
    .enum(['none', 'string'])
    .default('none')
    .meta(meta({ title: 'Tied', labels: ['Not', 'By a string'] })),
  string: bounded('String', 1, 2000, 80, { unit: 'mm', step: 5, when: { field: 'tie', is: ['string'] } }),
  thick: bounded('Thickness', 0.2, 20, 0.8, { unit: 'mm', step: 0.2, when: { field: 'tie', is: ['string'] } }),
  lift: bounded('Lift', 0.5, 50, 4, { unit: 'm/s²', step: 0.5, advanced: true, when: { field: 'tie', is: ['string'] } }),
  others: z
    .array(pieceReference)
    .max(24, 'At most 24 pieces.')
    .default([])
    .meta(meta({ title: 'Bumps into', input: ['solid'], placed: true, description: 'Balloons meet each other, and these pieces where they stand.' })),
  mask: maskOf().meta(
    meta({
      title: 'Mask',
      holds: 'mask',
      without: 'Nothing is held. A mask, measured on the letters while they are flat, holds them where it is, or limits the wind to it.',
    }),
  ),
  does: z
    .enum(['hold', 'limit'])
    .default('hold')
    .meta(meta({ title: 'The mask', labels: ['Holds them there', 'Limits the wind to there'] })),
  ...windFields({ field: 'tie', is: ['string'] }),
  metre: metreField,
  seed: seedParam(),
})
