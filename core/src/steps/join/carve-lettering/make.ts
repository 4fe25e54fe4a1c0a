import type { z } from 'zod'
import { extrude } from '../../form/extrude'
import { prismatic } from '../../form/prismatic'
import { plain } from '../../meta'
import { lessDeep, missing, thinFloor, volumeWords } from '../../shared/joining'
import { BEYOND } from '../../shared/join-fields'
import { laidWords } from '../../shared/laying'
import type { Evaluate, StepKind } from '../../step'
import type { carveLetteringParams } from './schema'

export const evaluate: Evaluate<typeof carveLetteringParams> = async (input, params, context) => {
  const { cut, depth, leave } = params
  const result = await laidWords(input, context, {
    title: 'Carve lettering',
    how: 'carve',
    forms: [{ ...cutter(params), face: { belowHighest: BEYOND } }],
    laying: params,
  })
  if ('failure' in result) return result.failure
  const { joined, partners, words } = result
  await context.breathe()
  const { issues, left } = thinFloor(joined.solid, leave, cut === 'v' ? 'tool' : 'depth', (by) =>
    cut === 'flat' && lessDeep(depth, by) > 0 ? [{ label: `Sink to ${plain(lessDeep(depth, by))} mm`, params: { depth: lessDeep(depth, by) } }] : [],
  )
  return {
    ok: true,
    value: joined.solid,
    issues: [...words.issues, ...missing(partners, joined.apart, []), ...issues],
    told: [`${volumeWords(joined.before - joined.after)} cut out`, left === undefined ? '' : `${plain(left)} mm left behind`, words.told]
      .filter(Boolean)
      .join(', '),
    marks: words.marks,
  }
}

type CarveLetteringParams = z.infer<typeof carveLetteringParams>

/** The form that cuts, its top over the face. */
function cutter({ cut, tool, depth, draft, edge }: CarveLetteringParams): { kind: StepKind; values: Record<string, unknown> } {
  if (cut === 'v') return { kind: prismatic as StepKind, values: { by: 'angle', angle: 90 - tool / 2, walls: BEYOND, way: 'sunk' } }
  if (cut === 'round') return { kind: prismatic as StepKind, values: { by: 'height', height: depth, slope: 'round', walls: BEYOND, way: 'sunk' } }
  const lean = Math.tan((draft * Math.PI) / 180) * depth
  const back = edge.profile !== 'square' ? edge : lean > 0 ? { profile: 'chamfer', inset: lean, height: depth } : edge
  return { kind: extrude as StepKind, values: { depth: depth + BEYOND, front: { profile: 'square' }, back } }
}
