import { snap } from '../outline/lattice'
import type { PolygonSet } from '../outline/polygon'
import { edgeSurface } from './edge-surface'

/** How far ridges lie from the border at most, mm: half of the widest stroke, as the straight skeleton measures it. */
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
  const beyond = snap(Math.min(box[2] - box[0], box[3] - box[1]) / 2 + 1, set.lattice)
  return edgeSurface(set, [beyond]).surface.inset.reduce((most, inset) => Math.max(most, inset), 0)
}
