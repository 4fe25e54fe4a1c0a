import { fitRings, keyOf, offsetRings, regionArea, regionRings } from './areas'
import type { Outline, Region } from './outline'
import { uniteRegions } from './unite'

/**
 * The outline grown by a distance, mm: each letter by itself, so that it keeps its tag; areas that come to overlap are formed as one.
 * Needs the manifold kernel loaded.
 */
export function offsetRegions(outline: Outline, distance: number, join: 'mitre' | 'round' | 'square'): Outline {
  const regions = outline.regions.flatMap((region): Region[] => {
    const members = region.members
      .map((member) => ({ letter: member.letter, paths: fitRings(offsetRings(regionRings({ ...region, dx: 0, dy: 0, members: [member] }), distance, join)) }))
      .filter(({ paths }) => paths.length > 0)
    if (members.length === 0) return []
    return [{ ...region, key: members.map(({ letter, paths }) => keyOf(`grown ${letter}`, paths)).join('+'), members }]
  })
  const layers = new Map<number, Region[]>()
  for (const region of regions) layers.set(region.layer, [...(layers.get(region.layer) ?? []), region])
  return { ...outline, regions: [...layers.values()].flatMap((list) => uniteRegions(list.map((region) => ({ region, area: regionArea(region) })))) }
}
