import { z } from 'zod'
import { FILTERS } from '../../../volume/filters'
import { blendedFields } from '../../../volume/masked-field'
import { volumeOf } from '../../../volume/remesh'
import { passesFor, softened } from '../../../volume/soften'
import { meta, plain } from '../../meta'
import { millimetres } from '../../shared/lengths'
import { alsoSaid, maskedInput, maskParam } from '../../shared/masks'
import { throughVolume, voxelFields } from '../../shared/volumes'
import { defineStep, failed, type StepIssue } from '../../step'

/** More passes than this are not made: the voxels are too fine for so much softening. */
const MOST_PASSES = 200

const softenParams = z.object({
  amount: millimetres('The amount', 0.01, 200)
    .default(0.8)
    .meta(meta({ title: 'Amount', unit: 'mm', step: 0.1, tried: true, most: 10, description: 'How far round an edge the softness reaches.' })),
  how: z
    .enum(FILTERS)
    .default('gaussian')
    .meta(
      meta({
        title: 'How',
        labels: ['Evenly', 'Broadly', 'Keeping corners', 'As soap film draws in'],
        description: 'A Gaussian, the mean, the median, or mean curvature flow.',
      }),
    ),
  keepVolume: z
    .boolean()
    .default(false)
    .meta(meta({ title: 'Keep the volume' })),
  mask: maskParam,
  ...voxelFields,
})

export const soften = defineStep({
  kind: 'soften',
  version: 1,
  family: 'Volume',
  title: 'Soften',
  summary: 'Rounds every edge and corner as if the letters had melted a little.',
  takes: ['solid'],
  gives: 'solid',
  params: softenParams,
  roughly: true,
  describe: ({ amount, keepVolume }) => `By ${plain(amount)} mm${keepVolume ? ', volume kept' : ''}`,
  async evaluate(input, params, context) {
    const { amount, how, keepVolume } = params
    let shift = 0
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
      async change(field, { source, voxel }) {
        passes = passesFor(amount, voxel, how)
        if (passes > MOST_PASSES) return field
        const done = await softened(field, how, passes, () => context.breathe(), keepVolume ? volumeOf(source) : undefined)
        shift = done.shift
        return weights ? blendedFields(field, done.field, source, weights) : done.field
      },
      more: (_, { voxel }): StepIssue[] =>
        Math.abs(shift) > 0.05 * voxel
          ? [
              {
                code: 'moved-out',
                severity: 'note',
                message: `To keep the volume, the surface was moved ${shift > 0 ? 'out' : 'in'} by ${plain(Math.abs(shift))} mm.`,
                remedy: 'Without keeping the volume, it stays where it is.',
                field: 'keepVolume',
              },
            ]
          : [],
    })
    if (passes > MOST_PASSES)
      return failed(
        'too-much',
        `Softening by ${plain(amount)} mm takes ${passes} rounds at this voxel size.`,
        'Give a larger voxel, or a smaller amount.',
        'voxel',
      )
    return alsoSaid(outcome, limited.issues)
  },
})
