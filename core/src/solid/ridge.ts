import { offsetRings } from '../outline/areas'
import { type PolygonSet, toPairs } from '../outline/polygon'
import { straightSkeleton } from './skeleton'

/** How near the bisection comes, mm. */
const NEAR = 0.005

/**
 * How far ridges lie from the border at most, mm: half of the widest stroke, as the straight skeleton measures it; where that cannot
 * be settled, the largest inset at which the clipper still finds something. Needs the manifold kernel loaded.
 */
export function widestInset(set: PolygonSet): number {
  const box = [Infinity, Infinity, -Infinity, -Infinity]
  for (const { xy } of set.rings)
    for (let i = 0; i < xy.length; i += 2) {
      box[0] = Math.min(box[0], xy[i])
      box[1] = Math.min(box[1], xy[i + 1])
      box[2] = Math.max(box[2], xy[i])
      box[3] = Math.max(box[3], xy[i + 1])
    }
  if (!(box[2] > box[0])) return 0
  // no point lies further from the border than half of the shorter side
  const beyond = Math.min(box[2] - box[0], box[3] - box[1]) / 2 + 1
  const { t, unresolved } = straightSkeleton(set, { limit: beyond })
  if (unresolved.length === 0) return t.reduce((most, inset) => Math.max(most, inset), 0)
  const rings = set.rings.map(({ xy }) => toPairs(xy))
  let [low, high] = [0, beyond]
  while (high - low > NEAR) {
    const middle = (low + high) / 2
    if (offsetRings(rings, -middle, 'mitre').length > 0) low = middle
    else high = middle
  }
  return low
}
