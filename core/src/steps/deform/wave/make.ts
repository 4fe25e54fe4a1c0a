import { lengthOf, middleOf } from '../../shared/axes'
import { deformInStep } from '../../shared/deforming'
import type { waveParams } from './schema'
import type { Evaluate } from '../../step'

export const evaluate: Evaluate<typeof waveParams> = (input, params, context) => {
  const { height, way, fit, count, length, phase } = params
  return deformInStep(input, context, {
    title: 'Wave',
    params,
    main: { field: 'height', value: height, unit: ' mm' },
    by: (box, share) => {
      if (height === 0) return undefined
      const along = way === 'ring' ? 'ring' : way === 'sideways' ? 1 : 0
      const middle = middleOf(box)
      const size = along === 'ring' ? Math.max(lengthOf(box, 0), lengthOf(box, 1)) / 2 : lengthOf(box, along)
      return {
        kind: 'wave',
        along,
        moved: way === 'up' ? 1 : way === 'sideways' ? 0 : 2,
        centre: [middle[0], middle[1]],
        start: along === 'ring' ? 0 : box[along],
        height: share * height,
        length: fit === 'length' ? length : Math.max(0.1, size / count),
        phase,
      }
    },
  })
}
