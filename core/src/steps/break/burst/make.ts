import { burst } from '../../../break/burst'
import type { Apart } from '../../../repeat/apart'
import { thingWeights } from '../../../repeat/thing-mask'
import { apartInStep } from '../../shared/apart'
import { type Evaluate, failed } from '../../step'
import { type burstParams, WORDS } from './schema'

export const evaluate: Evaluate<typeof burstParams> = async (input, params) => {
  if (input?.kind !== 'solid' && input?.kind !== 'assembly')
    return failed('no-input', 'Burst needs a solid, copies or shards.', 'Put a step such as Shatter before it.')
  const apart = apartInStep(input, params.by)
  if ('ok' in apart) return apart
  const radians = (degrees: number) => (degrees * Math.PI) / 180
  const [a, t] = [radians(params.angle), radians(params.tilt)]
  const value = burst(apart, {
    strength: params.strength / 100,
    from: params.from,
    spot: params.point ?? middleOf(apart),
    way: [Math.cos(a) * Math.cos(t), Math.sin(a) * Math.cos(t), Math.sin(t)],
    far: params.far,
    turn: params.turn,
    reach: params.reach,
    uneven: params.uneven / 100,
    // where the mask is 0 all of the delay passes first
    delays: thingWeights(apart, params.mask).map((weight) => (params.delay / 100) * (1 - weight)),
    seed: params.seed,
  })
  return { ok: true, value, issues: [], told: `${apart.things.length.toLocaleString('en')} ${WORDS[params.by]}` }
}

function middleOf({ things }: Apart): [number, number, number] {
  return [0, 1, 2].map(
    (k) =>
      things.reduce((least, { box }) => Math.min(least, box[k]), Infinity) / 2 + things.reduce((most, { box }) => Math.max(most, box[k + 3]), -Infinity) / 2,
  ) as [number, number, number]
}
