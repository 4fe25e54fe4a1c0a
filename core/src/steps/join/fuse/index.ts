import { z } from 'zod'
import { meta, plain } from '../../meta'
import { joinInStep, missing, onFace, partnersParam, volumeWords } from '../../shared/joining'
import { defineStep } from '../../step'

const fuseParams = z.object({
  others: partnersParam,
  stand: z
    .enum(['placed', 'face'])
    .default('placed')
    .meta(meta({ title: 'They stand', labels: ['At their places', 'On the face'] })),
  sunk: z
    .number('How deep they reach in must be a number.')
    .min(0.01, 'They must reach in by at least 0.01 mm, or nothing would hold them.')
    .max(5000)
    .default(0.5)
    .meta(meta({ title: 'Sunk in', unit: 'mm', step: 0.1, pull: 'forward', pullBy: -1, when: { field: 'stand', is: ['face'] } })),
})

export const fuse = defineStep({
  kind: 'fuse',
  version: 1,
  family: 'Join',
  title: 'Fuse',
  summary: 'Makes this piece and others one body, each where it stands.',
  takes: ['solid'],
  gives: 'solid',
  params: fuseParams,
  describe: ({ others, stand, sunk }) =>
    `With ${others.length === 1 ? 'one piece' : `${others.length} pieces`}${stand === 'face' ? `, on the face, ${plain(sunk)} mm in` : ''}`,
  async evaluate(input, { stand, sunk }, context) {
    const result = await joinInStep(input, context, {
      title: 'Fuse',
      how: 'fuse',
      ...(stand === 'face' ? { standing: onFace(sunk) } : {}),
    })
    if ('failure' in result) return result.failure
    const { joined, partners } = result
    return {
      ok: true,
      value: joined.solid,
      issues: missing(partners, joined.apart, stand === 'placed' ? [{ label: 'Stand it on the face', params: { stand: 'face' } }] : []),
      told: `${volumeWords(joined.after - joined.before)} more`,
    }
  },
})
