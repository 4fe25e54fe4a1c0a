import { z } from 'zod'
import { extrude } from '../../form/extrude'
import { meta, plain } from '../../meta'
import { edgeParams } from '../../shared/edge'
import { missing, volumeWords, wordsParam } from '../../shared/joining'
import { laidWords, layingFields, layingWords } from '../../shared/laying'
import { defineStep, type StepKind } from '../../step'

const raiseLetteringParams = z.object({
  words: wordsParam,
  ...layingFields,
  height: z
    .number('The height must be a number.')
    .min(0.05, 'The height must be at least 0.05 mm.')
    .max(1000)
    .default(3)
    .meta(meta({ title: 'Height', unit: 'mm', step: 0.5, pull: 'forward', description: 'Over the face the words stand on.' })),
  front: edgeParams.prefault({ profile: 'chamfer', inset: 0.4, height: 0.4 }).meta(meta({ title: 'Edge', holds: 'edge profile' })),
  fillet: z
    .number('The fillet must be a number.')
    .min(0)
    .max(50)
    .default(0)
    .meta(meta({ title: 'Fillet at the foot', unit: 'mm', step: 0.2, description: 'A hollow round where the letters meet the piece.' })),
  sunk: z
    .number('How deep they reach in must be a number.')
    .min(0.01, 'They must reach in by at least 0.01 mm, or nothing would hold them.')
    .max(500)
    .default(0.5)
    .meta(meta({ title: 'Sunk in', unit: 'mm', step: 0.1, description: 'So far they reach into the piece.', advanced: true })),
})

export const raiseLettering = defineStep({
  kind: 'raise-lettering',
  version: 2,
  family: 'Join',
  title: 'Raise lettering',
  summary: 'Raises words on this piece or round it, with an edge of their own.',
  takes: ['solid'],
  gives: 'solid',
  params: raiseLetteringParams,
  describe: (params) => {
    const { height, front } = params
    return `${plain(height)} mm high${front.profile === 'square' ? '' : `, ${front.profile.replaceAll('-', ' ')} ${plain(front.inset)} mm`}${layingWords(params)}`
  },

  async evaluate(input, params, context) {
    const { height, sunk, front, fillet } = params
    const result = await laidWords(input, context, {
      title: 'Raise lettering',
      how: 'fuse',
      forms: [
        { kind: extrude as StepKind, values: { depth: height + sunk, front }, face: { aboveLowest: sunk } },
        ...(fillet > 0
          ? [
              {
                kind: extrude as StepKind,
                values: { depth: fillet + sunk, outset: fillet, front: { profile: 'cove', inset: fillet, height: fillet } },
                face: { aboveLowest: sunk },
              },
            ]
          : []),
      ],
      laying: params,
    })
    if ('failure' in result) return result.failure
    const { joined, partners, words } = result
    return {
      ok: true,
      value: joined.solid,
      issues: [...words.issues, ...missing(partners, joined.apart, [])],
      told: [`${volumeWords(joined.after - joined.before)} more`, words.told].filter(Boolean).join(', '),
      marks: words.marks,
    }
  },
})
