import { z } from 'zod'
import { extrude } from '../../form/extrude'
import { prismatic } from '../../form/prismatic'
import { meta, plain } from '../../meta'
import {
  BEYOND,
  boundsAt,
  formedWords,
  frontUnder,
  joinInStep,
  leaveParam,
  lessDeep,
  lifted,
  missing,
  thinFloor,
  volumeWords,
  wordsParam,
} from '../../shared/joining'
import { defineStep, type StepKind } from '../../step'

const carveLetteringParams = z.object({
  words: wordsParam,
  cut: z
    .enum(['flat', 'v'])
    .default('v')
    .meta(meta({ title: 'Cut', labels: ['Flat floor', 'V-groove'] })),
  angle: z
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
    .meta(meta({ title: 'Depth', unit: 'mm', step: 0.5, pull: 'forward', pullBy: -1, when: { field: 'cut', is: ['flat'] } })),
  draft: z
    .number('The draft must be a number.')
    .min(0)
    .max(60, 'The walls can lean by 60° at most.')
    .default(0)
    .meta(meta({ title: 'Draft', unit: '°', step: 1, description: 'How far the walls lean; narrower at the floor.', when: { field: 'cut', is: ['flat'] } })),
  leave: leaveParam,
})

export const carveLettering = defineStep({
  kind: 'carve-lettering',
  version: 1,
  family: 'Join',
  title: 'Carve lettering',
  summary: 'Cuts words into this piece as a carver does: with a V-groove whose ridges are exact, or to a flat floor with leaning walls.',
  takes: ['solid', 'assembly'],
  gives: 'solid',
  params: carveLetteringParams,
  describe: ({ cut, angle, depth, draft }) =>
    cut === 'v' ? `V-groove of ${plain(angle)}°` : `Flat, ${plain(depth)} mm deep${draft > 0 ? `, walls at ${plain(draft)}°` : ''}`,

  async evaluate(input, { cut, angle, depth, draft, leave }, context) {
    const lean = Math.tan((draft * Math.PI) / 180) * depth
    const words =
      cut === 'v'
        ? await formedWords(prismatic as StepKind, { by: 'angle', angle: 90 - angle / 2, walls: BEYOND, way: 'sunk' }, 'Carve lettering', context)
        : await formedWords(
            extrude as StepKind,
            {
              depth: depth + BEYOND,
              front: { profile: 'square' },
              back: lean > 0 ? { profile: 'chamfer', inset: lean, height: depth } : { profile: 'square' },
            },
            'Carve lettering',
            context,
          )
    if ('failure' in words) return words.failure
    const result = await joinInStep(input, context, {
      title: 'Carve lettering',
      how: 'carve',
      field: 'words',
      solids: [words.solid],
      standing:
        (body) =>
        ({ solid, matrix }) => {
          const box = boundsAt(solid, matrix)
          return lifted(matrix, frontUnder(body, box) + BEYOND - box[5])
        },
    })
    if ('failure' in result) return result.failure
    const { joined, partners } = result
    await context.breathe()
    const { issues, left } = thinFloor(joined.solid, leave, cut === 'v' ? 'angle' : 'depth', (by) =>
      cut === 'flat' && lessDeep(depth, by) > 0 ? [{ label: `Sink to ${plain(lessDeep(depth, by))} mm`, params: { depth: lessDeep(depth, by) } }] : [],
    )
    return {
      ok: true,
      value: joined.solid,
      issues: [...words.issues, ...missing(partners, joined.apart, []), ...issues],
      told: `${volumeWords(joined.before - joined.after)} cut out${left === undefined ? '' : `, ${plain(left)} mm left behind`}`,
    }
  },
})
