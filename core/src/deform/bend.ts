import { actsAt, type Extent, sizeRow, type SpaceMap, turnRows } from './space-map'
import type { Box } from './units'

export interface Bend {
  readonly kind: 'bend'
  /** the axis whose lines are bent, and the one they are bent towards (its positive way where `curvature` is positive) */
  readonly along: 0 | 1 | 2
  readonly towards: 0 | 1 | 2
  /** bent between these; what lies beyond goes on straight */
  readonly extent: Extent
  /** what stays where it is, mm along */
  readonly middle: number
  /** where lengths stay as they are, mm on the axis `towards` */
  readonly neutral: number
  /** 1/mm */
  readonly curvature: number
}

/** Whether the bent extent comes round to where it began. */
export const isFullTurn = ({ extent, curvature }: Bend): boolean => Math.abs(Math.abs(curvature) * (extent.to - extent.from) - 2 * Math.PI) < 1e-9

/**
 * The pure bend of a bar (Barr, "Global and local deformations of solid primitives", 1984): lengths stay on the neutral plane, straight cuts across
 * it stay straight and meet it squarely. Of a full turn both ends come to lie at the very same places.
 */
export function bendMap(bend: Bend, box?: Box): SpaceMap {
  const { along, towards, extent, middle, neutral, curvature: k } = bend
  const round = isFullTurn(bend)
  const within = actsAt(extent, along, box)
  return (p, o, j, q = 0) => {
    const given = p[o + along]
    const x = round && Math.abs(given - extent.to) < END ? extent.from : given
    const u = p[o + towards] - neutral
    const s = Math.min(extent.to, Math.max(extent.from, x))
    const angle = k * (s - middle)
    const [sin, cos] = [Math.sin(angle), Math.cos(angle)]
    const beyond = x - s
    p[o + along] = middle + (s - middle) * sinc(angle) - u * sin + beyond * cos
    p[o + towards] = neutral + (s - middle) * versine(angle) + u * cos + beyond * sin
    if (!j) return
    if (within(x)) sizeRow(j, q + 3 * along, 1 - k * u)
    turnRows(j, q + 3 * along, q + 3 * towards, cos, sin)
  }
}

/** What is so near to the end of a full turn is at it, mm. */
const END = 1e-9

/** sin(a)/a and (1 − cos a)/a, right at nought, too. */
const sinc = (a: number) => (Math.abs(a) < 1e-4 ? 1 - (a * a) / 6 : Math.sin(a) / a)
const versine = (a: number) => (Math.abs(a) < 1e-4 ? a / 2 : (1 - Math.cos(a)) / a)
