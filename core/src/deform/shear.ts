import { addRow, type SpaceMap } from './space-map'

export interface Shear {
  readonly kind: 'shear'
  /** the axis along which things are moved, and the one by which */
  readonly moved: 0 | 1 | 2
  readonly by: 0 | 1 | 2
  /** what stays, mm on the axis `by` */
  readonly level: number
  /** mm moved a mm */
  readonly slope: number
}

/** Planes slid over each other. */
export function shearMap({ moved, by, level, slope }: Shear): SpaceMap {
  return (p, o, j, q = 0) => {
    p[o + moved] += slope * (p[o + by] - level)
    if (j) addRow(j, q + 3 * moved, q + 3 * by, slope)
  }
}
