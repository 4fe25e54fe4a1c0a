import { blendedFields, displacedField } from '../../../volume/masked-field'
import { BAND } from '../../../volume/estimate'
import { redistanced } from '../../../volume/remesh'
import { shifted } from '../../../volume/soften'
import { alsoSaid, maskedInput } from '../../shared/masks'
import { throughVolume } from '../../shared/volumes'
import { type Evaluate, failed } from '../../step'
import type { growParams } from './schema'

export const evaluate: Evaluate<typeof growParams> = async (input, params, context) => {
  const { how, by } = params
  let beyond = false
  const breathe = () => context.breathe()
  const limited = maskedInput(input, params.mask)
  if (limited.nowhere) return { ok: true, value: limited.value, issues: limited.issues }
  const { weights } = limited
  const outcome = await throughVolume(limited.value, context, {
    title: 'Grow or shrink',
    params,
    finest: Math.max(0.05, 1.5 * by),
    coarsest: by / 8,
    way: 'smooth',
    reach: by,
    partsMayChange: true,
    async change(field, { voxel, source }) {
      if (by / voxel > MOST_VOXELS) {
        beyond = true
        return field
      }
      const first = how === 'grow' || how === 'close' ? by : -by
      const simply = how === 'grow' || how === 'shrink'
      // less in places: what comes out are no distances there
      if (weights && simply)
        return redistanced(
          displacedField(field, source, () => first, weights),
          { band: BAND, breathe },
        )
      const moved = shifted(field, first)
      if (simply) return moved
      // and back, by distances from where it came to lie
      const back = shifted(await redistanced(moved, { band: field.band, breathe }), -first)
      return weights ? blendedFields(field, back, source, weights) : back
    },
  })
  if (beyond)
    return failed('too-far', `The surface cannot be moved by more than ${MOST_VOXELS} voxels.`, 'Give a larger voxel, or a smaller distance.', 'voxel')
  return alsoSaid(outcome, limited.issues)
}

/** A piece is moved by at most so many voxels: distances so far from the surface are costly. */
const MOST_VOXELS = 60
