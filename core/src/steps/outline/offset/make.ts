import { loadManifold } from '../../../kernel/manifold'
import { mapAreas, offsetRings } from '../../../outline/areas'
import { offsetRegions } from '../../../outline/grow'
import { plain } from '../../meta'
import { type Evaluate, failed } from '../../step'
import type { offsetParams } from './schema'

export const evaluate: Evaluate<typeof offsetParams> = async (input, { distance, join }, { memo }) => {
  if (input?.kind !== 'outline') return failed('no-outline', 'Offset needs an outline to work on.', 'Put a source such as Lettering before it.')
  if (distance === 0) return { ok: true, value: input, issues: [] }
  await loadManifold()
  // what grows into its neighbour is one area with it
  const value =
    distance > 0
      ? offsetRegions(input, distance, join, memo)
      : mapAreas(input, `offset ${distance} ${join}`, (rings) => offsetRings(rings, distance, join), memo)
  if (value.regions.length === 0)
    return failed('vanished', `Nothing is left ${plain(-distance)} mm inwards: every stroke is thinner.`, 'Give a smaller distance.', 'distance')
  const gone = distance < 0 ? input.regions.length - value.regions.length : 0
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
}
