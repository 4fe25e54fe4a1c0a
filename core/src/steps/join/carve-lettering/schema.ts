import { z } from 'zod'
import { meta } from '../../meta'
import { edgeParams } from '../../shared/edge-fields'
import { leaveParam, wordsParam } from '../../shared/join-fields'
import { layingFields } from '../../shared/laying-fields'

export const carveLetteringParams = z.object({
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
