import type { Box } from './units'

/**
 * A map of space onto itself: changes the point whose x, y, z stand at `o` (mm). Where a matrix is given, nine numbers by rows in `j` from `q` on, it is multiplied
 * from the left by the map's derivative there.
 */
export type SpaceMap = (p: Float64Array, o: number, j?: Float64Array, q?: number) => void

export const AXES = ['along', 'up', 'forward'] as const
/** x, y or z by what they are for lettering. */
export type Axis = (typeof AXES)[number]
export const axisNumber = (axis: Axis): 0 | 1 | 2 => AXES.indexOf(axis) as 0 | 1 | 2

/** A stretch along an axis, mm. */
export interface Extent {
  readonly from: number
  readonly to: number
}

/** How far along an extent a coordinate lies, 0 to 1, held at its ends. */
export const shareOf = ({ from, to }: Extent, at: number): number => (to > from ? Math.min(1, Math.max(0, (at - from) / (to - from))) : at < from ? 0 : 1)

/** Turns the rows of a matrix that stand at `a` and `b` in each other by a turn whose cosine and sine are given. */
export function turnRows(j: Float64Array, a: number, b: number, cos: number, sin: number): void {
  const [a0, a1, a2, b0, b1, b2] = [j[a], j[a + 1], j[a + 2], j[b], j[b + 1], j[b + 2]]
  j[a] = cos * a0 - sin * b0
  j[a + 1] = cos * a1 - sin * b1
  j[a + 2] = cos * a2 - sin * b2
  j[b] = sin * a0 + cos * b0
  j[b + 1] = sin * a1 + cos * b1
  j[b + 2] = sin * a2 + cos * b2
}

/** Adds to the row of a matrix at `to` so many times the one at `from`. */
export function addRow(j: Float64Array, to: number, from: number, times: number): void {
  j[to] += times * j[from]
  j[to + 1] += times * j[from + 1]
  j[to + 2] += times * j[from + 2]
}

export function sizeRow(j: Float64Array, row: number, factor: number): void {
  j[row] *= factor
  j[row + 1] *= factor
  j[row + 2] *= factor
}

/** What is so near to an end of an extent is at it, mm: that of a piece may have been rounded since it was measured. */
const AT_END = 1e-4

/** Whether the derivative at a coordinate is the one within an extent: at its ends it is, for what lies in `box` only where that reaches into the extent. */
export function actsAt({ from, to }: Extent, axis: 0 | 1 | 2, box?: Box): (at: number) => boolean {
  if (!(to > from)) return () => false
  const reaches = !box || (box[axis] < to - AT_END && box[3 + axis] > from + AT_END)
  const margin = reaches ? AT_END : -AT_END
  return (at) => at >= from - margin && at <= to + margin
}

/** The step of finite differences, mm: rounding and curvature both stay below a thousandth of it. */
export const DIFFERENCE = 1e-4

/** A map whose derivative is found by differences, towards the middle of `box`: what begins or ends with that is asked inside of it. */
export function byDifferences(map: (p: Float64Array, o: number) => void, box?: Box): SpaceMap {
  const [at, d, row] = [new Float64Array(3), new Float64Array(9), new Float64Array(3)]
  const middle = [0, 1, 2].map((k) => (box ? (box[k] + box[3 + k]) / 2 : Infinity))
  return (p, o, j, q = 0) => {
    if (!j) {
      map(p, o)
      return
    }
    const [x, y, z] = [p[o], p[o + 1], p[o + 2]]
    map(p, o)
    for (let k = 0; k < 3; k++) {
      at[0] = x
      at[1] = y
      at[2] = z
      const step = at[k] > middle[k] ? -DIFFERENCE : DIFFERENCE
      at[k] += step
      map(at, 0)
      for (let r = 0; r < 3; r++) d[3 * r + k] = (at[r] - p[o + r]) / step
    }
    for (let c = q; c < q + 3; c++) {
      for (let r = 0; r < 3; r++) row[r] = d[3 * r] * j[c] + d[3 * r + 1] * j[c + 3] + d[3 * r + 2] * j[c + 6]
      for (let r = 0; r < 3; r++) j[c + 3 * r] = row[r]
    }
  }
}
