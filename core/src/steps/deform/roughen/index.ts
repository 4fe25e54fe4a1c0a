import { z } from 'zod'
import { fractalNoise } from '../../../solid/noise'
import { meta, plain } from '../../meta'
import { seedParam } from '../../shared/seed'
import { displaceInStep } from '../../shared/displacing'
import { millimetres } from '../../shared/lengths'
import { maskParam } from '../../shared/masks'
import { defineStep } from '../../step'

const roughenParams = z.object({
  height: millimetres('The height', 0, 200)
    .default(0.8)
    .meta(
      meta({
        title: 'Height',
        unit: 'mm',
        step: 0.1,
        tried: true,
        most: 6,
        strengths: [0.2, 0.5, 1, 1.8, 3],
        description: 'How far the surface comes out and goes in.',
      }),
    ),
  scale: millimetres('The size of the spots', 0.2, 1000)
    .default(6)
    .meta(meta({ title: 'Spots', unit: 'mm', step: 0.5, tried: true, most: 40 })),
  detail: z
    .int('The detail must be a whole number.')
    .min(1)
    .max(5, 'At most 5 sizes one upon another.')
    .default(2)
    .meta(meta({ title: 'Detail', step: 1, description: 'How many sizes of spots, each half the one before.' })),
  way: z
    .enum(['normal', 'forward', 'up', 'right'])
    .default('normal')
    .meta(meta({ title: 'Moved', labels: ['Off the surface', 'To and fro', 'Up and down', 'Sideways'] })),
  seed: seedParam({ description: 'Another number is another roughness of the same kind.' }),
  strength: z
    .number('The strength must be a number.')
    .min(0)
    .max(100)
    .default(100)
    .meta(meta({ title: 'Strength', unit: '%', step: 5, tried: true })),
  mask: maskParam,
})

export const roughen = defineStep({
  kind: 'roughen',
  version: 1,
  family: 'Deform',
  title: 'Roughen',
  summary: 'Weathers the surface with noise of one or more sizes.',
  takes: ['solid'],
  gives: 'solid',
  params: roughenParams,
  roughly: true,
  describe: ({ height, scale }) => `${plain(height)} mm in spots of ${plain(scale)} mm`,
  evaluate: (input, { height, scale, detail, way, seed, strength, mask }, context) => {
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
  },
})
