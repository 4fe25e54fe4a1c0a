import type { Matrix } from '../solid/operations'
import type { Place } from './schema'

/** Where a piece stands that was never moved. */
export const UNMOVED_PLACE: Place = { position: [0, 0, 0], turn: [0, 0, 0], size: 1 }

/** What a place does to a piece's own coordinates: sized, then turned about x, y and z in that order, then moved. */
export function placeMatrix({ position, turn, size }: Place): Matrix {
  const [[cx, sx], [cy, sy], [cz, sz]] = turn.map((degrees) => [cosine(degrees), cosine(degrees - 90)])
  const [px, py, pz] = position
  return [
    size * cy * cz,
    size * (sx * sy * cz - cx * sz),
    size * (cx * sy * cz + sx * sz),
    px,
    size * cy * sz,
    size * (sx * sy * sz + cx * cz),
    size * (cx * sy * sz - sx * cz),
    py,
    size * -sy,
    size * sx * cy,
    size * cx * cy,
    pz,
  ]
}

/** Exact at whole quarter turns. */
function cosine(degrees: number): number {
  const turned = ((degrees % 360) + 360) % 360
  if (turned % 90 === 0) return [1, 0, -1, 0][turned / 90]
  return Math.cos((turned * Math.PI) / 180)
}
