import type { Memo } from '../cache/memo'
import { fitRings, offsetRings, regionArea, regionRings } from './areas'
import type { Member, Outline, Region } from './outline'
import type { Path } from './path'
import { uniteRegions } from './unite'

/**
 * The outline grown by a distance, mm: each letter by itself, so that it keeps its tag; areas that come to overlap are formed as one.
 * What equal letters grow to is worked out once and kept. Needs the manifold kernel loaded.
 */
export function offsetRegions(outline: Outline, distance: number, join: 'mitre' | 'round' | 'square', memo: Memo): Outline {
  const regions = outline.regions.flatMap((region): Region[] => {
    const key = `grown ${distance} ${join}:${region.key}`
    const grown = memo.get(key, (): Path[][] =>
      region.members.map((member) => fitRings(offsetRings(regionRings({ ...region, dx: 0, dy: 0, members: [member] }), distance, join))),
    )
    const members = region.members.flatMap(({ letter }, m): Member[] => (grown[m].length > 0 ? [{ letter, paths: grown[m] }] : []))
    return members.length > 0 ? [{ ...region, key, members }] : []
  })
  const layers = new Map<number, Region[]>()
  for (const region of regions) layers.set(region.layer, [...(layers.get(region.layer) ?? []), region])
  return { ...outline, regions: [...layers.values()].flatMap((list) => uniteRegions(list.map((region) => ({ region, area: regionArea(region) })))) }
}
