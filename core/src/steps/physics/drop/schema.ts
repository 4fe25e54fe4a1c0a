import { z } from 'zod'
import { pieceReference } from '../../../document/piece-reference'
import { STUFF_LABELS, STUFFS } from '../../../look/densities'
import { HINGE_EDGES } from '../../../physics/hinge-edges'
import { APART_BY } from '../../../repeat/apart-by'
import { meta } from '../../meta'
import { maskOf } from '../../shared/mask-fields'
import { APART_LABELS, bounded, forceFields, gravityFields, momentFields, surroundingFields, windFields } from '../../shared/physics-fields'
import { seedParam } from '../../shared/seed'

const hung = { field: 'hang', is: ['rope', 'chain'] }

export const dropParams = z.object({
  ...momentFields(2, 5),
  by: z
    .enum(APART_BY)
    .default('letter')
    .meta(meta({ title: 'Each', labels: APART_LABELS })),
  hang: z
    .enum(['free', 'rope', 'chain', 'hinge', 'glue'])
    .default('free')
    .meta(meta({ title: 'Held', labels: ['By nothing', 'By ropes', 'By chains', 'By a hinge', 'By glue that gives way'] })),
  ropes: bounded('How many each', 1, 4, 2, { step: 1, when: hung, description: 'Where none are drawn.' }),
  rope: bounded('Length', 1, 5000, 60, { unit: 'mm', step: 5, when: hung, description: 'Where none are drawn: straight up.' }),
  lines: z
    .array(pieceReference)
    .max(4, 'At most 4 pieces.')
    .default([])
    .meta(
      meta({
        title: 'Drawn in',
        input: ['outline'],
        placed: true,
        when: hung,
        description: 'Each drawn line is one: fast to what its ends lie at, else where they are.',
      }),
    ),
  thick: bounded('Thickness', 0.2, 50, 1.2, { unit: 'mm', step: 0.2, when: hung }),
  edge: z
    .enum(HINGE_EDGES)
    .default('top')
    .meta(meta({ title: 'At its', labels: ['Top', 'Bottom', 'Left side', 'Right side'], when: { field: 'hang', is: ['hinge'] } })),
  glue: bounded('It holds', 0, 100_000, 40, {
    unit: '× a weight',
    step: 5,
    most: 500,
    when: { field: 'hang', is: ['glue'] },
    description: 'Between what touches, until it would have to hold more than so many times what one of them weighs.',
  }),
  ...surroundingFields('below'),
  stuff: z
    .enum(STUFFS)
    .default('acrylic')
    .meta(meta({ title: 'Made of', labels: STUFF_LABELS })),
  friction: bounded('Friction', 0, 2, 0.5, { step: 0.05 }),
  bounce: bounded('Bounce', 0, 95, 15, { unit: '%', step: 5 }),
  right: bounded('Pushed right', -5000, 5000, 0, { unit: 'mm/s', step: 10, advanced: true }),
  up: bounded('Pushed up', -5000, 5000, 0, { unit: 'mm/s', step: 10, advanced: true }),
  forward: bounded('Pushed forward', -5000, 5000, 0, { unit: 'mm/s', step: 10, advanced: true }),
  spin: bounded('Spun, by lot', 0, 3600, 60, { unit: '°/s', step: 10 }),
  ...windFields(),
  ...forceFields,
  inside: z
    .enum(['stays', 'apart'])
    .default('stays')
    .meta(meta({ title: 'What begins inside another', labels: ['Stays there', 'Is pushed out of it first'], advanced: true })),
  shown: z
    .enum(['things', 'bodies'])
    .default('things')
    .meta(
      meta({
        title: 'Shown',
        labels: ['What falls', 'What it is taken for'],
        advanced: true,
        description: 'Things fall as a few convex bodies that together are nearly as large.',
      }),
    ),
  ...gravityFields,
  mask: maskOf().meta(
    meta({
      title: 'Mask',
      holds: 'mask',
      without: 'All of it falls at once. A mask lets only what it takes go, the rest when something touches it; or it limits wind and force.',
    }),
  ),
  does: z
    .enum(['let-go', 'limit'])
    .default('let-go')
    .meta(meta({ title: 'The mask', labels: ['Lets go what it takes', 'Limits wind and force to what it takes'] })),
  seed: seedParam(),
})
