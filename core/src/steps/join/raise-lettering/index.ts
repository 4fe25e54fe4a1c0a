import { z } from 'zod'
import { extrude } from '../../form/extrude'
import { meta, plain } from '../../meta'
import { edgeParams } from '../../shared/edge'
import { formedWords, joinInStep, missing, onFace, volumeWords, wordsParam } from '../../shared/joining'
import { defineStep, type StepKind } from '../../step'

const raiseLetteringParams = z.object({
  words: wordsParam,
  height: z
    .number('The height must be a number.')
    .min(0.05, 'The height must be at least 0.05 mm.')
    .max(1000)
    .default(3)
    .meta(meta({ title: 'Height', unit: 'mm', step: 0.5, pull: 'forward', description: 'Over the face the words stand on.' })),
  front: edgeParams.prefault({ profile: 'chamfer', inset: 0.4, height: 0.4 }).meta(meta({ title: 'Edge', holds: 'edge profile' })),
  sunk: z
    .number('How deep they reach in must be a number.')
    .min(0.01, 'They must reach in by at least 0.01 mm, or nothing would hold them.')
    .max(500)
    .default(0.5)
    .meta(meta({ title: 'Sunk in', unit: 'mm', step: 0.1, description: 'So far they reach into the piece.', advanced: true })),
})

export const raiseLettering = defineStep({
  kind: 'raise-lettering',
  version: 1,
  family: 'Join',
  title: 'Raise lettering',
  summary: 'Raises words on this piece, with an edge of their own.',
  takes: ['solid', 'assembly'],
  gives: 'solid',
  params: raiseLetteringParams,
  describe: ({ height, front }) =>
    `${plain(height)} mm high${front.profile === 'square' ? '' : `, ${front.profile.replaceAll('-', ' ')} ${plain(front.inset)} mm`}`,

  async evaluate(input, { height, sunk, front }, context) {
    const words = await formedWords(extrude as StepKind, { depth: height + sunk, front }, 'Raise lettering', context)
    if ('failure' in words) return words.failure
    const result = await joinInStep(input, context, {
      title: 'Raise lettering',
      how: 'fuse',
      field: 'words',
      solids: [words.solid],
      standing: onFace(sunk),
    })
    if ('failure' in result) return result.failure
    const { joined, partners } = result
    return {
      ok: true,
      value: joined.solid,
      issues: [...words.issues, ...missing(partners, joined.apart, [])],
      told: `${volumeWords(joined.after - joined.before)} more`,
    }
  },
})
