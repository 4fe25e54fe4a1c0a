import { blendedFields, displacedField } from '../../../volume/masked-field'
import { BAND } from '../../../volume/estimate'
import { redistanced } from '../../../volume/remesh'
import { alsoSaid, maskedInput } from '../../shared/masks'
import { changedField, sideOf } from '../../shared/body-through-volume'
import { throughVolume, workingIn } from '../../shared/volumes'
import { type Evaluate, failed } from '../../step'
import type { growParams } from './schema'

export const evaluate: Evaluate<typeof growParams> = async (input, params, context) => {
  const { how, by } = params
  let beyond = false
  const out = how === 'grow' || how === 'close'
  const working = workingIn(context)
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
    // where a mask has it be less, what comes out lies between the old surface and the new
    side: weights ? undefined : sideOf(out ? by : -by),
    partsMayChange: true,
    byBodies(voxel) {
      // what a mask limits is told by where it lies on the whole
      if (weights || by / voxel > MOST_VOXELS) return undefined
      return { apart: (out ? 2 * by : 0) + voxel, change: { kind: 'grow', how, by } }
    },
    async change(field, { voxel, source }) {
      if (by / voxel > MOST_VOXELS) {
        beyond = true
        return field
      }
      // less in places: what comes out are no distances there
      if (weights && (how === 'grow' || how === 'shrink'))
        return redistanced(
          displacedField(field, source, () => (out ? by : -by), weights),
          { ...working, band: BAND },
        )
      const { field: changed } = await changedField(field, { kind: 'grow', how, by }, source, working)
      return weights ? blendedFields(field, changed, source, weights) : changed
    },
  })
  if (beyond)
    return failed('too-far', `The surface cannot be moved by more than ${MOST_VOXELS} voxels.`, 'Give a larger voxel, or a smaller distance.', 'voxel')
  return alsoSaid(outcome, limited.issues)
}

/** A piece is moved by at most so many voxels: distances so far from the surface are costly. */
const MOST_VOXELS = 60
