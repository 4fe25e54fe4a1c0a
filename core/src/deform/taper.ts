import { curveThrough, type CurvePoint } from '../outline/through-points'
import { actsAt, addRow, type Extent, shareOf, sizeRow, type SpaceMap } from './space-map'
import type { Box } from './units'

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
export function taperMap({ along, extent, centre, sized, curve }: Taper, box?: Box): SpaceMap {
  const size = curveThrough(curve, 1)
  const within = actsAt(extent, along, box)
  const [x, y, z] = sized
  const [cx, cy, cz] = centre
  return (p, o, j, q = 0) => {
    const at = p[o + along]
    const share = shareOf(extent, at)
    const factor = size.value(share)
    if (j) {
      const slope = within(at) ? size.slope(share) / (extent.to - extent.from) : 0
      for (let k = 0; k < 3; k++) {
        if (!sized[k]) continue
        sizeRow(j, q + 3 * k, factor)
        addRow(j, q + 3 * k, q + 3 * along, (p[o + k] - centre[k]) * slope)
      }
    }
    if (x) p[o] = cx + (p[o] - cx) * factor
    if (y) p[o + 1] = cy + (p[o + 1] - cy) * factor
    if (z) p[o + 2] = cz + (p[o + 2] - cz) * factor
  }
}
