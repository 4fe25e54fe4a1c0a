import { sizeRow, type SpaceMap } from './space-map'

export interface Stretch {
  readonly kind: 'stretch'
  /** factors on x, y and z */
  readonly factors: readonly [number, number, number]
  readonly centre: readonly [number, number, number]
}

/** Lengths multiplied along the axes, about a centre. */
export function stretchMap({ factors: [fx, fy, fz], centre: [cx, cy, cz] }: Stretch): SpaceMap {
  return (p, o, j, q = 0) => {
    p[o] = cx + (p[o] - cx) * fx
    p[o + 1] = cy + (p[o + 1] - cy) * fy
    p[o + 2] = cz + (p[o + 2] - cz) * fz
    if (!j) return
    sizeRow(j, q, fx)
    sizeRow(j, q + 3, fy)
    sizeRow(j, q + 6, fz)
  }
}
