import { joinInStep, missing, onFace, volumeWords } from '../../shared/joining'
import type { fuseParams } from './schema'
import type { Evaluate } from '../../step'

export const evaluate: Evaluate<typeof fuseParams> = async (input, { stand, sunk }, context) => {
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
}
