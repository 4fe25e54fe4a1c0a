import { blendedFields } from '../../../volume/masked-field'
import { passesFor } from '../../../volume/soften'
import { plain } from '../../meta'
import { alsoSaid, maskedInput } from '../../shared/masks'
import { changedField } from '../../shared/body-through-volume'
import { throughVolume, workingIn } from '../../shared/volumes'
import { type Evaluate, failed, type StepIssue } from '../../step'
import type { softenParams } from './schema'

export const evaluate: Evaluate<typeof softenParams> = async (input, params, context) => {
  const { amount, how, keepVolume } = params
  let together = 0
  let passes = 0
  const limited = maskedInput(input, params.mask)
  if (limited.nowhere) return { ok: true, value: limited.value, issues: limited.issues }
  const { weights } = limited
  const outcome = await throughVolume(limited.value, context, {
    title: 'Soften',
    params,
    finest: Math.max(0.05, amount),
    coarsest: amount / 2.5,
    way: 'smooth',
    // where the mask is nought the surface is the old one: both must lie within the band
    ...(weights ? { reach: amount } : {}),
    byBodies(voxel) {
      passes = passesFor(amount, voxel, how)
      // what a mask limits is told by where it lies on the whole
      return weights || passes > MOST_PASSES ? undefined : { apart: 2 * amount + voxel, change: { kind: 'soften', how, passes, keepVolume } }
    },
    async change(field, { source, voxel }) {
      passes = passesFor(amount, voxel, how)
      if (passes > MOST_PASSES) return field
      const done = await changedField(field, { kind: 'soften', how, passes, keepVolume }, source, workingIn(context))
      together = done.shift
      return weights ? blendedFields(field, done.field, source, weights) : done.field
    },
    more({ voxel }, each): StepIssue[] {
      const shift = together || each
      return Math.abs(shift) > 0.05 * voxel
        ? [
            {
              code: 'moved-out',
              severity: 'note',
              message: `To keep the volume, the surface was moved ${shift > 0 ? 'out' : 'in'} by ${plain(Math.abs(shift))} mm.`,
              remedy: 'Without keeping the volume, it stays where it is.',
              field: 'keepVolume',
            },
          ]
        : []
    },
  })
  if (passes > MOST_PASSES)
    return failed(
      'too-much',
      `Softening by ${plain(amount)} mm takes ${passes} rounds at this voxel size.`,
      'Give a larger voxel, or a smaller amount.',
      'voxel',
    )
  return alsoSaid(outcome, limited.issues)
}

/** More passes than this are not made: the voxels are too fine for so much softening. */
const MOST_PASSES = 200
