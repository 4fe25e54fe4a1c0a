import { addRow, type SpaceMap } from './space-map'

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
  return (p, o, j, q = 0) => {
    const at = along === 'ring' ? Math.hypot(p[o] - centre[0], p[o + 1] - centre[1]) : p[o + along] - start
    const angle = (2 * Math.PI * at) / length + turn
    if (j) {
      const steep = ((height * 2 * Math.PI) / length) * Math.cos(angle)
      if (along !== 'ring') addRow(j, q + 3 * moved, q + 3 * along, steep)
      else if (at > 0) {
        const [x, y] = [((p[o] - centre[0]) * steep) / at, ((p[o + 1] - centre[1]) * steep) / at]
        for (let c = q; c < q + 3; c++) j[c + 3 * moved] += x * j[c] + y * j[c + 3]
      }
    }
    p[o + moved] += height * Math.sin(angle)
  }
}
