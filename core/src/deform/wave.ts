import type { SpaceMap } from './space-map'

export interface Wave {
  readonly kind: 'wave'
  /** waves run along an axis, or in rings about `centre` in the plane of the letters */
  readonly along: 0 | 1 | 2 | 'ring'
  /** the axis things are moved on */
  readonly moved: 0 | 1 | 2
  readonly centre: readonly [number, number]
  /** where the first one begins, mm along */
  readonly start: number
  /** from the middle to a crest, and from crest to crest, mm */
  readonly height: number
  readonly length: number
  /** degrees */
  readonly phase: number
}

/** Things moved up and down by a sine along an axis or over the distance from a point. */
export function waveMap({ along, moved, centre, start, height, length, phase }: Wave): SpaceMap {
  const turn = (phase * Math.PI) / 180
  return (p, o) => {
    const at = along === 'ring' ? Math.hypot(p[o] - centre[0], p[o + 1] - centre[1]) : p[o + along] - start
    p[o + moved] += height * Math.sin((2 * Math.PI * at) / length + turn)
  }
}
