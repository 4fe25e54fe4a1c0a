import { throughPoints, type CurvePoint } from '../outline/through-points'
import { type Extent, shareOf, type SpaceMap } from './space-map'

export interface Taper {
  readonly kind: 'taper'
  readonly along: 0 | 1 | 2
  readonly extent: Extent
  /** what cuts are sized about, x, y, z */
  readonly centre: readonly [number, number, number]
  /** which of x, y and z are sized; never the one it goes along */
  readonly sized: readonly [boolean, boolean, boolean]
  /** the size at 0 to 1 of the extent, as a factor */
  readonly curve: readonly CurvePoint[]
}

/** Cuts across an axis sized by a curve along it (Barr 1984). */
export function taperMap({ along, extent, centre, sized, curve }: Taper): SpaceMap {
  const size = throughPoints(curve, 1)
  const [x, y, z] = sized
  const [cx, cy, cz] = centre
  return (p, o) => {
    const factor = size(shareOf(extent, p[o + along]))
    if (x) p[o] = cx + (p[o] - cx) * factor
    if (y) p[o + 1] = cy + (p[o + 1] - cy) * factor
    if (z) p[o + 2] = cz + (p[o + 2] - cz) * factor
  }
}
