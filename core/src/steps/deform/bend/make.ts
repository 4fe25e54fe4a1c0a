import { extentOf, extentShares, lengthOf } from '../../shared/axes'
import { deformInStep } from '../../shared/deforming'
import type { bendParams, WAYS } from './schema'
import type { Evaluate } from '../../step'

export const evaluate: Evaluate<typeof bendParams> = (input, params, context) => {
  const { along, towards, sign } = AXES[params.way]
  const { by, angle, radius, centre, neutral, from, to } = params
  return deformInStep(input, context, {
    title: 'Bend',
    params,
    main:
      by === 'angle'
        ? { field: 'angle', value: angle, unit: '°' }
        : { field: 'radius', value: radius, unit: ' mm', at: (share) => (Math.sign(radius) * Math.ceil(Math.abs(radius / share) * 10)) / 10 },
    shares: [{ field: 'centre', title: 'Centre', value: centre, axis: along }, ...extentShares(params, along)],
    by: (box, share) => {
      const extent = extentOf(box, along, from, to)
      const length = extent.to - extent.from
      const curvature = by === 'angle' ? (length > 0 ? (angle * Math.PI) / 180 / length : 0) : 1 / radius
      if (curvature === 0) return undefined
      return {
        kind: 'bend',
        along,
        towards,
        extent,
        middle: box[along] + (lengthOf(box, along) * centre) / 100,
        neutral: box[towards] + (lengthOf(box, towards) * neutral) / 100,
        curvature: sign * share * curvature,
      }
    },
  })
}

/** along, towards, and the sign of a positive angle */
const AXES: Record<(typeof WAYS)[number], { readonly along: 0 | 1; readonly towards: 1 | 2; readonly sign: 1 | -1 }> = {
  // the middle is the arch's top
  arch: { along: 0, towards: 1, sign: -1 },
  back: { along: 0, towards: 2, sign: -1 },
  roll: { along: 1, towards: 2, sign: -1 },
}
