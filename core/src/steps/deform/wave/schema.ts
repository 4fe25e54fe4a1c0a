import { z } from 'zod'
import { meta } from '../../meta'
import { deformFields } from '../../shared/deform-fields'
import { millimetres } from '../../shared/lengths'

export const WAYS = ['up', 'forward', 'sideways', 'ring'] as const

export const waveParams = z.object({
  height: z
    .number('The height must be a number.')
    .min(-500)
    .max(500)
    .default(4)
    .meta(meta({ title: 'Height', unit: 'mm', step: 0.5, pull: 'up', strengths: [1, 2.5, 5, 8, 12], description: 'From the middle to a crest.' })),
  way: z
    .enum(WAYS)
    .default('up')
    .meta(meta({ title: 'Way', labels: ['Up and down', 'To and fro', 'Side to side, upwards', 'Rings, to and fro'] })),
  fit: z
    .enum(['count', 'length'])
    .default('count')
    .meta(meta({ title: 'Waves by', labels: ['Number', 'Length'] })),
  count: z
    .number('The number must be a number.')
    .min(0.05, 'At least a twentieth of a wave.')
    .max(200, 'At most 200 waves.')
    .default(2)
    .meta(meta({ title: 'Waves', step: 0.5, when: { field: 'fit', is: ['count'] } })),
  length: millimetres('The length', 0.5, 10_000)
    .default(40)
    .meta(meta({ title: 'Length', unit: 'mm', step: 2, description: 'From crest to crest.', when: { field: 'fit', is: ['length'] } })),
  phase: z
    .number('The phase must be a number.')
    .min(-36_000)
    .max(36_000)
    .default(0)
    .meta(meta({ title: 'Phase', unit: '°', step: 15 })),
  ...deformFields,
})
