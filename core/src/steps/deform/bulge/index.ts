import { z } from 'zod'
import { BULGE_LIMITS } from '../../../deform/bulge'
import { meta, plain } from '../../meta'
import { lengthOf, percentOf } from '../../shared/axes'
import { deformFields, deformInStep } from '../../shared/deforming'
import { defineStep } from '../../step'

const SHAPES = ['ball', 'upright', 'level', 'face'] as const
const WORDS: Record<(typeof SHAPES)[number], string> = {
  ball: 'as a ball',
  upright: 'as an upright cylinder',
  level: 'as a lying cylinder',
  face: 'within the face',
}

const bulgeParams = z.object({
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

export const bulge = defineStep({
  kind: 'bulge',
  version: 1,
  family: 'Deform',
  title: 'Bulge',
  summary: 'Swells the piece about a point or a line, or pinches it there.',
  takes: ['solid'],
  gives: 'solid',
  params: bulgeParams,
  describe: ({ amount, shape }) => `${plain(amount)} %, ${WORDS[shape]}`,
  evaluate: (input, params, context) => {
    const { amount, shape, reach, right, up, forward } = params
    return deformInStep(input, context, {
      title: 'Bulge',
      params,
      main: { field: 'amount', value: amount, unit: ' %' },
      by: (box, share) => {
        if (amount === 0) return undefined
        const size =
          shape === 'level'
            ? Math.max(lengthOf(box, 1), lengthOf(box, 2))
            : Math.max(lengthOf(box, 0), lengthOf(box, 2), shape === 'upright' ? 0 : lengthOf(box, 1))
        return {
          kind: 'bulge',
          centre: [right, up, forward].map((at, k) => box[k] + (lengthOf(box, k as 0 | 1 | 2) * at) / 100) as [number, number, number],
          axes: [shape !== 'level', shape !== 'upright', shape !== 'face'],
          // a hair more, so that the outermost points are within it
          radius: Math.max(1e-3, (0.5 * size * reach) / 100) * 1.0001,
          amount: (share * amount) / 100,
        }
      },
    })
  },
})
