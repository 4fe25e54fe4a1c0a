/** A map of space onto itself: changes the point whose x, y, z stand at `o` (mm). */
export type SpaceMap = (p: Float64Array, o: number) => void

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
