import { z } from 'zod'
import { APART_BY } from '../../../repeat/apart-by'
import { meta } from '../../meta'
import { maskOf } from '../../shared/mask-fields'
import { APART_LABELS, bounded, forceFields, gravityFields, momentFields, surroundingFields, windFields } from '../../shared/physics-fields'
import { seedParam } from '../../shared/seed'

export const jellyParams = z.object({
  ...momentFields(1, 4),
  by: z
    .enum(APART_BY)
    .default('letter')
    .meta(meta({ title: 'Each', labels: APART_LABELS })),
  stiffness: bounded('Stiffness', 0, 100, 50, { unit: '%', step: 5 }),
  damping: bounded('Damping', 0, 20, 0.6, { unit: '1/s', step: 0.1, most: 5, description: 'How soon it stops wobbling.' }),
  swell: bounded('Swollen by', -50, 200, 0, { unit: '%', step: 5, most: 100, description: 'How much more room it wants than it has.' }),
  cell: bounded('Cells', 0.5, 200, 5, {
    unit: 'mm',
    step: 0.5,
    most: 20,
    description: 'What it wobbles in: smaller ones let thin strokes bend, and take longer. The surface stays as fine as it is.',
  }),
  mask: maskOf().meta(
    meta({
      title: 'Mask',
      holds: 'mask',
      without: 'Nothing is held. A mask holds some of it where it is, makes it stiffer there, or limits wind and force to it.',
    }),
  ),
  does: z
    .enum(['hold', 'stiffen', 'both', 'limit'])
    .default('hold')
    .meta(
      meta({
        title: 'The mask',
        labels: ['Holds it there', 'Stiffens it there', 'Stiffens it, and holds it where it is full', 'Limits wind and force to there'],
      }),
    ),
  follows: z
    .enum(['stays', 'piece'])
    .default('stays')
    .meta(
      meta({
        title: 'Its piece',
        labels: ['Stands still', 'Takes it along'],
        description: 'What is held goes where the keys of the piece’s place take it, the rest follows. Key After by the clock for that: 1 s at 1 s.',
      }),
    ),
  ...windFields(),
  ...forceFields,
  ...surroundingFields('below'),
  friction: bounded('Friction', 0, 2, 0.6, { step: 0.05, advanced: true }),
  bounce: bounded('Bounce', 0, 95, 0, { unit: '%', step: 5, advanced: true }),
  density: bounded('Density', 0.01, 20, 0.2, { unit: 'g/cm³', step: 0.05, advanced: true, description: 'The lighter, the more the wind moves it.' }),
  ...gravityFields,
  seed: seedParam(),
})
