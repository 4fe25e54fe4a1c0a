import { lengthOf } from '../../shared/axes'
import { deformInStep } from '../../shared/deforming'
import type { bulgeParams } from './schema'
import type { Evaluate } from '../../step'

export const evaluate: Evaluate<typeof bulgeParams> = (input, params, context) => {
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
}
