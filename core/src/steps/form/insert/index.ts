import { z } from 'zod'
import { pieceReference } from '../../../document/piece-reference'
import { inlayParams } from '../../join/inlay'
import { meta, plain } from '../../meta'
import { edgeParams } from '../../shared/edge'
import { defineStep, failed, type StepKind } from '../../step'
import { extrude } from '../extrude'

const insertParams = z.object({
  pocket: pieceReference
    .default({ piece: '' })
    .meta(meta({ title: 'Goes into', settingsOf: 'inlay', description: 'The piece with the Inlay step: depth, lead-in and height are set there.' })),
  front: edgeParams.prefault({ profile: 'square' }).meta(meta({ title: 'Edge', holds: 'edge profile', pull: 'edge' })),
})

export const insert = defineStep({
  kind: 'insert',
  version: 1,
  family: 'Form',
  title: 'Insert',
  summary: 'The words as they fit into the pocket of another piece’s Inlay step.',
  takes: ['outline'],
  gives: 'solid',
  params: insertParams,
  describe: ({ front }) => `Fits the pocket${front.profile === 'square' ? '' : `, ${front.profile.replaceAll('-', ' ')} ${plain(front.inset)} mm`}`,

  async evaluate(input, { front }, context) {
    const found = context.settings?.pocket
    if (!found) return failed('no-pocket', 'No piece with a pocket has been chosen.', 'Choose the piece that has the Inlay step.', 'pocket')
    const { depth, lead, proud } = inlayParams.parse(found.params)
    // the pocket's mm in this piece's own
    const scale = found.size
    const height = (depth + proud) * scale
    if (height < 0.1)
      return failed('no-height', `The insert would be ${plain(height)} mm high.`, 'Let it stand out further, or make the pocket deeper.', 'pocket')
    const chamfer = Math.min(lead * scale, 0.45 * height)
    return (extrude as StepKind).evaluate(
      input,
      extrude.params.parse({
        depth: height,
        front,
        back: chamfer > 0 ? { profile: 'chamfer', inset: chamfer, height: chamfer } : { profile: 'square' },
      }),
      context,
    )
  },
})
