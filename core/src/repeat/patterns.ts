import { NONE } from '../solid/labels'
import { shift, type Spots, SpotList, through, turnAbout } from './spots'

export interface GridPattern {
  /** how many to the right, down and back */
  readonly across: number
  readonly down: number
  readonly deep: number
  /** from one to the next, mm, along each of them */
  readonly step: readonly [number, number, number]
  /** every other row half a step to the side; staggered rows have one less there */
  readonly rows: 'straight' | 'bricks' | 'staggered'
  /** whether the first or the middle of all stands where the piece is */
  readonly from: 'first' | 'middle'
}

/** How many copies a grid has, without making it. */
export function gridCount({ across, down, deep, rows }: Pick<GridPattern, 'across' | 'down' | 'deep' | 'rows'>): number {
  const short = rows === 'staggered' && across > 1 ? Math.floor(down / 2) : 0
  return (across * down - short) * deep
}

/** A grid of places, row by row from the upper left, layer by layer from the front; named by column, row and layer. */
export function gridSpots({ across, down, deep, step, rows, from }: GridPattern): Spots {
  const list = new SpotList()
  const wide = (across - 1) * step[0] + (rows === 'bricks' && down > 1 ? step[0] / 2 : 0)
  const [x0, y0, z0] = from === 'first' ? [0, 0, 0] : [-wide / 2, ((down - 1) * step[1]) / 2, ((deep - 1) * step[2]) / 2]
  for (let layer = 0; layer < deep; layer++)
    for (let row = 0; row < down; row++) {
      const odd = rows !== 'straight' && row % 2 === 1
      const count = odd && rows === 'staggered' && across > 1 ? across - 1 : across
      for (let column = 0; column < count; column++)
        list.push(shift(x0 + (column + (odd ? 0.5 : 0)) * step[0], y0 - row * step[1], z0 - layer * step[2]), NONE, column, row, layer)
    }
  return list.finish()
}

/** A row of places, each further by a step, mm, and turned by an angle more than the one before, degrees about the row's direction's own foot. */
export function rowSpots({
  count,
  step,
  turn,
  from,
}: {
  count: number
  step: readonly [number, number, number]
  turn: number
  from: 'first' | 'middle'
}): Spots {
  const list = new SpotList()
  const back = from === 'middle' ? (count - 1) / 2 : 0
  for (let i = 0; i < count; i++) {
    const k = i - back
    list.push(through(shift(k * step[0], k * step[1], k * step[2]), turnAbout('z', turn * i)), NONE, i, 0, 0)
  }
  return list.finish()
}

export interface RingPattern {
  readonly count: number
  /** mm, to the places */
  readonly radius: number
  /** the part of the circle that is taken, and where it begins, degrees; counter-clockwise from the top where it stands upright, from the front where it lies */
  readonly sweep: number
  readonly begin: number
  /** upright in the plane of the letters, or lying round an upright axis */
  readonly plane: 'upright' | 'lying'
  /** whether copies turn with the ring, or all look the same way */
  readonly turned: boolean
}

/** Places on a circle about the origin, evenly: both ends of an arc have one, a whole circle has none twice. Named by their number. */
export function ringSpots({ count, radius, sweep, begin, plane, turned }: RingPattern): Spots {
  const list = new SpotList()
  const whole = Math.abs(sweep) >= 360
  const step = whole ? sweep / count : count > 1 ? sweep / (count - 1) : 0
  for (let i = 0; i < count; i++) {
    const angle = begin + i * step
    // where it is turned with the ring, a copy stands on it with its head outwards, or faces outwards
    const out = plane === 'upright' ? through(turnAbout('z', angle), shift(0, radius, 0)) : through(turnAbout('y', angle), shift(0, 0, radius))
    list.push(turned ? out : shift(out[3], out[7], out[11]), NONE, i, 0, 0)
  }
  return list.finish()
}
