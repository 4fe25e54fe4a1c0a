import { axisNumber } from '../../../deform/space-map'
import { middleOf } from '../../shared/axes'
import { deformInStep } from '../../shared/deforming'
import type { stretchParams } from './schema'
import type { Evaluate } from '../../step'

export const evaluate: Evaluate<typeof stretchParams> = (input, params, context) => {
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
}
