import { z } from 'zod'
import { loadManifold } from '../../../kernel/manifold'
import { mapAreas, offsetRings } from '../../../outline/areas'
import { meta, plain } from '../../meta'
import { defineStep, failed } from '../../step'

const offsetParams = z.object({
  distance: z
    .number('The distance must be a number.')
    .min(-500, 'An outline can be offset by 500 mm at most.')
    .max(500, 'An outline can be offset by 500 mm at most.')
    .default(2)
    .meta(meta({ title: 'Distance', unit: 'mm', step: 0.25, pull: 'right', description: 'Outwards; below zero inwards.' })),
  join: z
    .enum(['mitre', 'round', 'square'])
    .default('round')
    .meta(meta({ title: 'Corners', labels: ['Mitre', 'Round', 'Square'] })),
})

export const offset = defineStep({
  kind: 'offset',
  version: 1,
  family: 'Outline',
  title: 'Offset',
  summary: 'Grows or shrinks the outline by a distance.',
  takes: ['outline'],
  gives: 'outline',
  params: offsetParams,
  describe: ({ distance, join }) => `${plain(Math.abs(distance))} mm ${distance < 0 ? 'inwards' : 'outwards'}, ${join} corners`,
  async evaluate(input, { distance, join }, { memo }) {
    if (input?.kind !== 'outline') return failed('no-outline', 'Offset needs an outline to work on.', 'Put a source such as Lettering before it.')
    if (distance === 0) return { ok: true, value: input, issues: [] }
    await loadManifold()
    const value = mapAreas(input, `offset ${distance} ${join}`, (rings) => offsetRings(rings, distance, join), memo)
    if (value.regions.length === 0)
      return failed('vanished', `Nothing is left ${plain(-distance)} mm inwards: every stroke is thinner.`, 'Give a smaller distance.', 'distance')
    const gone = input.regions.length - value.regions.length
    if (gone === 0) return { ok: true, value, issues: [] }
    return {
      ok: true,
      value,
      issues: [
        {
          code: 'parts-vanished',
          severity: 'warning',
          message: `${gone} of ${input.regions.length} shapes are too thin and vanish.`,
          remedy: 'Give a smaller distance.',
          field: 'distance',
        },
      ],
    }
  },
})
