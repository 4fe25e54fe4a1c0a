import { boxesMeet, fitRings, letterOf, offsetRings, regionArea, regionFrom, regionRings } from './areas'
import { Area, clipAreas } from './clip'
import type { Outline, Region } from './outline'

/**
 * Every area without what lies over it: later regions lie over earlier ones. `gap` mm of air is left between them. Curves that
 * nothing cuts stay exact. Needs the manifold kernel loaded.
 */
export function cutToVisible(outline: Outline, gap: number): Outline {
  const regions: Region[] = []
  const above: Area[] = []
  for (const region of outline.regions.slice().reverse()) {
    const own = regionArea(region)
    let left = own
    for (const cover of above) if (boxesMeet(left.box, cover.box)) left = new Area(clipAreas(left, cover, 'subtract'))
    if (left === own) regions.push(region)
    else if (left.paths.length > 0) regions.push(regionFrom(left.paths, letterOf(region), region.layer))
    above.push(gap > 0 ? new Area(fitRings(offsetRings(regionRings(region), gap, 'mitre'))) : own)
  }
  return { ...outline, regions: regions.reverse() }
}
