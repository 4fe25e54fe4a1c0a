import { extrude } from '../../form/extrude'
import { missing, volumeWords } from '../../shared/joining'
import { laidWords } from '../../shared/laying'
import type { Evaluate, StepKind } from '../../step'
import type { raiseLetteringParams } from './schema'

export const evaluate: Evaluate<typeof raiseLetteringParams> = async (input, params, context) => {
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
}
