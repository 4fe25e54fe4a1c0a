import { z } from 'zod'
import { extrude } from '../../form/extrude'
import { prismatic } from '../../form/prismatic'
import { meta, plain } from '../../meta'
import { edgeParams } from '../../shared/edge'
import { BEYOND, leaveParam, lessDeep, missing, thinFloor, volumeWords, wordsParam } from '../../shared/joining'
import { laidWords, layingFields, layingWords } from '../../shared/laying'
import { defineStep, type StepKind } from '../../step'

const carveLetteringParams = z.object({
  words: wordsParam,
  ...layingFields,
  cut: z
    .enum(['flat', 'v', 'round'])
    .default('v')
    .meta(meta({ title: 'Cut', labels: ['Flat floor', 'V-groove', 'Round groove'] })),
  tool: z
    .number('The angle of the tool must be a number.')
    .min(20, 'The tool must have an angle of 20° at least.')
    .max(160, 'The tool can have an angle of 160° at most.')
    .default(90)
    .meta(
      meta({
        title: 'Tool',
        unit: '°',
        step: 5,
        description: 'The angle between the sides of the groove: the wider a stroke, the deeper it goes.',
        when: { field: 'cut', is: ['v'] },
      }),
    ),
  depth: z
    .number('The depth must be a number.')
    .min(0.05, 'The depth must be at least 0.05 mm.')
    .max(500)
    .default(2)
    .meta(
      meta({
        title: 'Depth',
        unit: 'mm',
        step: 0.5,
        pull: 'forward',
        pullBy: -1,
        description: 'Of a round groove where the strokes are widest.',
        when: { field: 'cut', is: ['flat', 'round'] },
      }),
    ),
  draft: z
    .number('The draft must be a number.')
    .min(0)
    .max(60, 'The walls can lean by 60° at most.')
    .default(0)
    .meta(meta({ title: 'Draft', unit: '°', step: 1, description: 'How far the walls lean; narrower at the floor.', when: { field: 'cut', is: ['flat'] } })),
  edge: edgeParams
    .prefault({ profile: 'square' })
    .meta(meta({ title: 'Foot of the walls', holds: 'edge profile', advanced: true, when: { field: 'cut', is: ['flat'] } })),
  leave: leaveParam,
})
type CarveLetteringParams = z.infer<typeof carveLetteringParams>

export const carveLettering = defineStep({
  kind: 'carve-lettering',
  version: 2,
  family: 'Join',
  title: 'Carve lettering',
  summary:
    'Cuts words into this piece or round it, as a carver does: with a V-groove whose ridges are exact, a round groove, or to a floor with leaning walls.',
  takes: ['solid'],
  gives: 'solid',
  params: carveLetteringParams,
  // the tool's angle was the only one
  migrations: { 1: ({ angle, ...rest }) => (angle === undefined ? rest : { ...rest, tool: angle }) },
  describe: (params) => {
    const { cut, tool, depth, draft } = params
    const words =
      cut === 'v'
        ? `V-groove of ${plain(tool)}°`
        : cut === 'round'
          ? `Round groove, ${plain(depth)} mm`
          : `Flat, ${plain(depth)} mm deep${draft > 0 ? `, walls at ${plain(draft)}°` : ''}`
    return `${words}${layingWords(params)}`
  },

  async evaluate(input, params, context) {
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
  },
})

/** The form that cuts, its top over the face. */
function cutter({ cut, tool, depth, draft, edge }: CarveLetteringParams): { kind: StepKind; values: Record<string, unknown> } {
  if (cut === 'v') return { kind: prismatic as StepKind, values: { by: 'angle', angle: 90 - tool / 2, walls: BEYOND, way: 'sunk' } }
  if (cut === 'round') return { kind: prismatic as StepKind, values: { by: 'height', height: depth, slope: 'round', walls: BEYOND, way: 'sunk' } }
  const lean = Math.tan((draft * Math.PI) / 180) * depth
  const back = edge.profile !== 'square' ? edge : lean > 0 ? { profile: 'chamfer', inset: lean, height: depth } : edge
  return { kind: extrude as StepKind, values: { depth: depth + BEYOND, front: { profile: 'square' }, back } }
}
