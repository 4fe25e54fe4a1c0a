import { z } from 'zod'
import { blendedFields, displacedField } from '../../../volume/masked-field'
import { BAND } from '../../../volume/estimate'
import { redistanced } from '../../../volume/remesh'
import { shifted } from '../../../volume/soften'
import { meta, plain } from '../../meta'
import { millimetres } from '../../shared/lengths'
import { alsoSaid, maskedInput, maskParam } from '../../shared/masks'
import { throughVolume, voxelFields } from '../../shared/volumes'
import { defineStep, failed } from '../../step'

/** A piece is moved by at most so many voxels: distances so far from the surface are costly. */
const MOST_VOXELS = 60

const growParams = z.object({
  how: z
    .enum(['grow', 'shrink', 'close', 'open'])
    .default('grow')
    .meta(
      meta({
        title: 'How',
        labels: ['Grow', 'Shrink', 'Close gaps', 'Open'],
        description: 'Close gaps grows and shrinks again, so that gaps stay filled; Open shrinks and grows, so that what is thin stays away.',
      }),
    ),
  by: millimetres('The distance', 0.01, 500)
    .default(0.5)
    .meta(meta({ title: 'By', unit: 'mm', step: 0.1, tried: true, most: 10 })),
  mask: maskParam,
  ...voxelFields,
})

const WORDS = { grow: 'Grown by', shrink: 'Shrunk by', close: 'Gaps closed up to twice', open: 'Opened by' } as const

export const grow = defineStep({
  kind: 'grow',
  version: 1,
  family: 'Volume',
  title: 'Grow or shrink',
  summary: 'Moves the whole surface out or in, closes gaps, or takes away what is thin.',
  takes: ['solid'],
  gives: 'solid',
  params: growParams,
  roughly: true,
  describe: ({ how, by }) => `${WORDS[how]} ${plain(by)} mm`,
  async evaluate(input, params, context) {
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
  },
})
