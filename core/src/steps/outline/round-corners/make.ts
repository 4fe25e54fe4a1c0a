import type { Region } from '../../../outline/outline'
import { keyOf } from '../../../outline/areas'
import { doubleArea } from '../../../outline/polygon'
import { flattenPath } from '../../../outline/flatten'
import { roundCorners } from '../../../outline/round'
import { type Evaluate, failed } from '../../step'
import type { roundCornersParams } from './schema'

export const evaluate: Evaluate<typeof roundCornersParams> = async (input, params) => {
  if (input?.kind !== 'outline') return failed('no-outline', 'Round corners needs an outline to work on.', 'Put a source such as Lettering before it.')
  const regions = input.regions.map((region): Region => {
    const members = region.members.map((member) => {
      const area = member.paths.reduce((sum, path) => sum + doubleArea(flattenPath(path, { tolerance: 0.05 }).xy), 0)
      return { ...member, paths: member.paths.map((path) => roundCorners(path, { ...params, side: area < 0 ? -1 : 1 })) }
    })
    return {
      ...region,
      members,
      key: keyOf(
        'round',
        members.flatMap((m) => m.paths),
      ),
    }
  })
  return { ok: true, value: { ...input, regions }, issues: [] }
}
