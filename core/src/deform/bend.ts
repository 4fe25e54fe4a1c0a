import type { Extent, SpaceMap } from './space-map'

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

/**
 * The pure bend of a bar (Barr, "Global and local deformations of solid primitives", 1984): lengths stay on the neutral plane, straight cuts across
 * it stay straight and meet it squarely.
 */
export function bendMap({ along, towards, extent, middle, neutral, curvature: k }: Bend): SpaceMap {
  return (p, o) => {
    const [x, u] = [p[o + along], p[o + towards] - neutral]
    const s = Math.min(extent.to, Math.max(extent.from, x))
    const angle = k * (s - middle)
    const [sin, cos] = [Math.sin(angle), Math.cos(angle)]
    const beyond = x - s
    p[o + along] = middle + (s - middle) * sinc(angle) - u * sin + beyond * cos
    p[o + towards] = neutral + (s - middle) * versine(angle) + u * cos + beyond * sin
  }
}

/** The way back: what was bent so becomes straight again. Exact between the ends of the extent, and within half a turn of the middle. */
export function unbendMap({ along, towards, extent, middle, neutral, curvature: k }: Bend): SpaceMap {
  return (p, o) => {
    if (k === 0) return
    const radius = 1 / k
    const [a, b] = [p[o + along] - middle, neutral + radius - p[o + towards]]
    const angle = k > 0 ? Math.atan2(a, b) : Math.atan2(-a, -b)
    const s = middle + angle * radius
    if (s >= extent.from && s <= extent.to) {
      p[o + along] = s
      p[o + towards] = neutral + radius - Math.sign(k) * Math.sqrt(a * a + b * b)
      return
    }
    // straight beyond: its frame at the end, undone
    const end = s < extent.from ? extent.from : extent.to
    const turn = k * (end - middle)
    const [sin, cos] = [Math.sin(turn), Math.cos(turn)]
    const dx = a - (end - middle) * sinc(turn)
    const dy = p[o + towards] - neutral - (end - middle) * versine(turn)
    p[o + along] = end + dx * cos + dy * sin
    p[o + towards] = neutral - dx * sin + dy * cos
  }
}

/** sin(a)/a and (1 − cos a)/a, right at nought, too. */
const sinc = (a: number) => (Math.abs(a) < 1e-4 ? 1 - (a * a) / 6 : Math.sin(a) / a)
const versine = (a: number) => (Math.abs(a) < 1e-4 ? a / 2 : (1 - Math.cos(a)) / a)
