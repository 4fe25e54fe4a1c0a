import { deformInStep } from '../../shared/deforming'
import type { shearParams, WAYS } from './schema'
import type { Evaluate } from '../../step'

export const evaluate: Evaluate<typeof shearParams> = (input, params, context) => {
  const { angle, way, held } = params
  const [moved, by] = AXES[way]
  return deformInStep(input, context, {
    title: 'Shear',
    params,
    main: { field: 'angle', value: angle, unit: '°' },
    by: (box, share) =>
      angle === 0
        ? undefined
        : {
            kind: 'shear',
            moved,
            by,
            level: held === 'start' ? box[by] : held === 'end' ? box[by + 3] : (box[by] + box[by + 3]) / 2,
            slope: Math.tan((share * angle * Math.PI) / 180),
          },
  })
}

/** what is moved, and by what */
const AXES: Record<(typeof WAYS)[number], readonly [0 | 1 | 2, 0 | 1 | 2]> = {
  slant: [0, 1],
  rise: [1, 0],
  right: [0, 2],
  up: [1, 2],
  lean: [2, 1],
  swing: [2, 0],
}
