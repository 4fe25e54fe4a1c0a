import { z } from 'zod'
import { meta, plain } from '../../meta'
import { lengthOf, middleOf } from '../../shared/axes'
import { deformFields, deformInStep } from '../../shared/deforming'
import { millimetres } from '../../shared/lengths'
import { defineStep } from '../../step'

const WAYS = ['up', 'forward', 'sideways', 'ring'] as const
const WORDS: Record<(typeof WAYS)[number], string> = { up: 'up and down', forward: 'to and fro', sideways: 'from side to side', ring: 'in rings' }

const waveParams = z.object({
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

export const wave = defineStep({
  kind: 'wave',
  version: 1,
  family: 'Deform',
  title: 'Wave',
  summary: 'Lets the piece roll like water: along its length, upwards, or in rings.',
  takes: ['solid'],
  gives: 'solid',
  params: waveParams,
  describe: ({ height, way, fit, count, length }) =>
    `${plain(height)} mm ${WORDS[way]}, ${fit === 'count' ? `${plain(count)} waves` : `every ${plain(length)} mm`}`,
  evaluate: (input, params, context) => {
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
  },
})
