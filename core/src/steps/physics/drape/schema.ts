import { z } from 'zod'
import { CLOTH_HELD } from '../../../physics/cloth-held'
import { meta } from '../../meta'
import { maskOf } from '../../shared/mask-fields'
import { bounded, forceFields, gravityFields, momentFields, surroundingFields, windFields } from '../../shared/physics-fields'
import { seedParam } from '../../shared/seed'

export const drapeParams = z.object({
  ...momentFields(2, 3),
  falls: z
    .enum(['down', 'back'])
    .default('down')
    .meta(meta({ title: 'Falls', labels: ['Down over their tops', 'Back onto their faces'] })),
  over: bounded('Hangs over', 0, 2000, 25, { unit: 'mm', step: 5, description: 'Beyond what it falls on, on all sides.' }),
  above: bounded('From above', 0.5, 2000, 15, { unit: 'mm', step: 5 }),
  thick: bounded('Thickness', 0.1, 20, 1, { unit: 'mm', step: 0.1, most: 5 }),
  stiffness: bounded('Stiffness', 0, 100, 20, { unit: '%', step: 5, description: 'Silk at 0, felt at 100.' }),
  edge: bounded('Squares of', 0.3, 50, 2, { unit: 'mm', step: 0.25, most: 10, description: 'Finer ones fold more finely, and take longer.' }),
  held: z
    .enum(CLOTH_HELD)
    .default('free')
    .meta(meta({ title: 'Held', labels: ['Not', 'At its corners', 'At its far side', 'At both ends'] })),
  mask: maskOf().meta(
    meta({
      title: 'Mask',
      holds: 'mask',
      without: 'Nothing more is held. A mask, measured on the cloth as it lies before it falls, holds it where it is, or limits wind and force to it.',
    }),
  ),
  does: z
    .enum(['hold', 'limit'])
    .default('hold')
    .meta(meta({ title: 'The mask', labels: ['Holds it there', 'Limits wind and force to there'] })),
  show: z
    .enum(['both', 'cloth'])
    .default('both')
    .meta(meta({ title: 'Result', labels: ['Cloth and what is under it', 'The cloth alone'] })),
  ...surroundingFields('below'),
  friction: bounded('Friction', 0, 2, 0.8, { step: 0.05, advanced: true }),
  ...windFields(),
  ...forceFields,
  ...gravityFields,
  seed: seedParam(),
})
