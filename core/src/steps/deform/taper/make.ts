import { axisNumber } from '../../../deform/space-map'
import { extentOf, extentShares, lengthOf, middleOf } from '../../shared/axes'
import { deformInStep } from '../../shared/deforming'
import type { taperParams } from './schema'
import type { Evaluate } from '../../step'

export const evaluate: Evaluate<typeof taperParams> = (input, params, context) => {
  const { amount, axis, end, about, width, height, depth, curve, from, to } = params
  const along = axisNumber(axis)
  const points = curve.length > 0 ? curve : [[0, 0] as [number, number], [1, 100] as [number, number]]
  return deformInStep(input, context, {
    title: 'Taper',
    params,
    main: { field: 'amount', value: amount, unit: ' %' },
    shares: extentShares(params, along),
    by: (box, share) => {
      if (amount === 0) return undefined
      const size = (t: number) => 1 - (share * amount * t) / 10_000
      const far = points.map(([t, v]) => [t, size(v)] as [number, number])
      const near = far.map(([t, v]) => [1 - t, v] as [number, number]).reverse()
      // from the middle to both ends, each half of the way
      const both = [...near.map(([t, v]) => [t / 2, v] as [number, number]), ...far.map(([t, v]) => [0.5 + t / 2, v] as [number, number])]
      const ends = both.filter(([t], i) => i === 0 || t > both[i - 1][0])
      const middle = middleOf(box)
      return {
        kind: 'taper',
        along,
        extent: extentOf(box, along, from, to),
        centre: about === 'middle' || lengthOf(box, 0) === 0 ? middle : [middle[0], box[1], box[2]],
        sized: [width && along !== 0, height && along !== 1, depth && along !== 2],
        curve: end === 'far' ? far : end === 'near' ? near : ends,
      }
    },
  })
}
