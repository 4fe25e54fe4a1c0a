import { axisNumber } from '../../../deform/space-map'
import { extentOf, extentShares, middleOf } from '../../shared/axes'
import { deformInStep } from '../../shared/deforming'
import type { twistParams } from './schema'
import type { Evaluate } from '../../step'

export const evaluate: Evaluate<typeof twistParams> = (input, params, context) => {
  const { angle, axis, held, from, to } = params
  const about = axisNumber(axis)
  return deformInStep(input, context, {
    title: 'Twist',
    params,
    main: { field: 'angle', value: angle, unit: '°' },
    shares: extentShares(params, about),
    by: (box, share) => {
      if (angle === 0) return undefined
      const middle = middleOf(box)
      const start = held === 'start' ? 0 : held === 'end' ? -angle * share : (-angle * share) / 2
      const [i, j] = [0, 1, 2].filter((k) => k !== about)
      return { kind: 'twist', about, extent: extentOf(box, about, from, to), centre: [middle[i], middle[j]], start, end: start + angle * share }
    },
  })
}
