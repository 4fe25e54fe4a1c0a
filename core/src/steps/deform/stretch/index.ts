import { z } from 'zod'
import { AXES, axisNumber } from '../../../deform/space-map'
import { meta, plain } from '../../meta'
import { middleOf } from '../../shared/axes'
import { deformFields, deformInStep } from '../../shared/deforming'
import { defineStep } from '../../step'

const stretchParams = z.object({
  amount: z
    .number('The amount must be a number.')
    .min(-95, 'At most 95 % is taken away: something must be left.')
    .max(2000, 'It grows to 21 times its length at most.')
    .default(30)
    .meta(
      meta({
        title: 'Amount',
        unit: '%',
        step: 5,
        tried: true,
        most: 200,
        strengths: [-40, 20, 50, 100, 200],
        description: 'How much longer it becomes; below nought it is pressed together.',
      }),
    ),
  axis: z
    .enum(AXES)
    .default('along')
    .meta(meta({ title: 'Along', labels: ['The length', 'The height', 'The depth'] })),
  keepVolume: z
    .boolean()
    .default(false)
    .meta(meta({ title: 'Keep the volume' })),
  held: z
    .enum(['middle', 'start'])
    .default('middle')
    .meta(meta({ title: 'Held at', labels: ['The middle', 'The start'] })),
  ...deformFields,
})

export const stretch = defineStep({
  kind: 'stretch',
  version: 1,
  family: 'Deform',
  title: 'Stretch',
  summary: 'Draws the piece out or presses it together, with its volume kept on request.',
  takes: ['solid'],
  gives: 'solid',
  params: stretchParams,
  describe: ({ amount, axis, keepVolume }) =>
    `${plain(amount)} % along the ${{ along: 'length', up: 'height', forward: 'depth' }[axis]}${keepVolume ? ', volume kept' : ''}`,
  evaluate: (input, params, context) => {
    const { amount, axis, keepVolume, held } = params
    const along = axisNumber(axis)
    return deformInStep(input, context, {
      title: 'Stretch',
      params,
      main: { field: 'amount', value: amount, unit: ' %' },
      by: (box, share) => {
        if (amount === 0) return undefined
        const factor = 1 + (share * amount) / 100
        const across = keepVolume ? 1 / Math.sqrt(factor) : 1
        const middle = middleOf(box)
        const centre = [...middle] as [number, number, number]
        if (held === 'start') centre[along] = box[along]
        return { kind: 'stretch', centre, factors: [0, 1, 2].map((k) => (k === along ? factor : across)) as [number, number, number] }
      },
    })
  },
})
