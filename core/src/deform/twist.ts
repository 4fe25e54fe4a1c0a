import { actsAt, addRow, type Extent, shareOf, type SpaceMap, turnRows } from './space-map'
import type { Box } from './units'

export interface Twist {
  readonly kind: 'twist'
  /** the axis it turns about */
  readonly about: 0 | 1 | 2
  readonly extent: Extent
  /** where the axis runs: the two other coordinates, in the order x, y, z */
  readonly centre: readonly [number, number]
  /** turn at the start and at the end of the extent, degrees */
  readonly start: number
  readonly end: number
}

/** Cuts across the axis turned about it, evenly from one end to the other; right-handed about its positive way. */
export function twistMap({ about, extent, centre, start, end }: Twist, box?: Box): SpaceMap {
  // y about x turns into z, z about y into x, x about z into y
  const [i, j] = [
    [1, 2],
    [2, 0],
    [0, 1],
  ][about]
  const [ci, cj] = i < j ? centre : [centre[1], centre[0]]
  const radians = Math.PI / 180
  const rate = ((end - start) * radians) / (extent.to - extent.from)
  const within = actsAt(extent, about, box)
  return (p, o, m, q = 0) => {
    const at = p[o + about]
    const angle = (start + (end - start) * shareOf(extent, at)) * radians
    const [sin, cos] = [Math.sin(angle), Math.cos(angle)]
    const [u, v] = [p[o + i] - ci, p[o + j] - cj]
    p[o + i] = ci + u * cos - v * sin
    p[o + j] = cj + u * sin + v * cos
    if (!m) return
    turnRows(m, q + 3 * i, q + 3 * j, cos, sin)
    if (!within(at)) return
    addRow(m, q + 3 * i, q + 3 * about, -rate * (u * sin + v * cos))
    addRow(m, q + 3 * j, q + 3 * about, rate * (u * cos - v * sin))
  }
}
