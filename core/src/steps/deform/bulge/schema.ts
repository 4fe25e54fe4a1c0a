import { z } from 'zod'
import { BULGE_LIMITS } from '../../../deform/bulge'
import { meta } from '../../meta'
import { percentOf } from '../../shared/axes'
import { deformFields } from '../../shared/deform-fields'

export const SHAPES = ['ball', 'upright', 'level', 'face'] as const

export const bulgeParams = z.object({
  amount: z
    .number('The amount must be a number.')
    .min(100 * BULGE_LIMITS[0], `It is drawn in by ${-100 * BULGE_LIMITS[0]} % at most.`)
    .max(100 * BULGE_LIMITS[1], `It is swollen by ${100 * BULGE_LIMITS[1]} % at most: beyond that it would fold.`)
    .default(50)
    .meta(
      meta({
        title: 'Amount',
        unit: '%',
        step: 5,
        tried: true,
        strengths: [-50, 25, 50, 80, 120],
        description: 'How much larger its middle becomes; below nought it is pinched.',
      }),
    ),
  shape: z
    .enum(SHAPES)
    .default('ball')
    .meta(meta({ title: 'Shape', labels: ['Ball', 'Upright cylinder', 'Lying cylinder', 'Within the face'] })),
  reach: percentOf('The reach', 1, 1000)
    .default(100)
    .meta(meta({ title: 'Reach', unit: '%', step: 5, description: 'Of half the piece’s length, or of its height where only that takes part.' })),
  right: percentOf('The middle', -500, 600)
    .default(50)
    .meta(meta({ title: 'Middle along', unit: '%', step: 5 })),
  up: percentOf('The middle', -500, 600)
    .default(50)
    .meta(meta({ title: 'Middle up', unit: '%', step: 5 })),
  forward: percentOf('The middle', -500, 600)
    .default(0)
    .meta(meta({ title: 'Middle forward', unit: '%', step: 5, description: '0 is the back: the face comes forward.' })),
  ...deformFields,
})
