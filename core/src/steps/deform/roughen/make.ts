import { fractalNoise } from '../../../solid/noise'
import { displaceInStep } from '../../shared/displacing'
import type { roughenParams } from './schema'
import type { Evaluate } from '../../step'

export const evaluate: Evaluate<typeof roughenParams> = (input, { height, scale, detail, way, seed, strength, mask }, context) => {
  const value = fractalNoise(seed, detail)
  const directions = { forward: [0, 0, 1], up: [0, 1, 0], right: [1, 0, 0] } as const
  return displaceInStep(input, context, {
    title: 'Roughen',
    mask,
    strength: strength / 100,
    // four sides to the smallest spot
    edge: Math.max(0.1, scale / 2 ** (detail - 1) / 4),
    along: way === 'normal' ? 'normal' : directions[way],
    by: (x, y, z) => height * value(x / scale, y / scale, z / scale),
    main: { field: 'height', value: height },
  })
}
