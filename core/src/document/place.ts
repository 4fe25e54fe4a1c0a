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

/** What brings the coordinates of a piece at one place into those of a piece at another. */
export function relativePlace(own: Place, other: Place): Matrix {
  const [a, b] = [placeMatrix(own), placeMatrix(other)]
  const scale = 1 / own.size ** 2
  const out = new Array<number>(12)
  for (let i = 0; i < 3; i++) {
    // a turn and a size are undone by their transpose over the size squared
    for (let j = 0; j < 4; j++) {
      let sum = 0
      for (let k = 0; k < 3; k++) sum += a[4 * k + i] * (b[4 * k + j] - (j === 3 ? a[4 * k + 3] : 0))
      // exact where both stand straight
      out[4 * i + j] = Math.round(sum * scale * FINENESS) / FINENESS + 0
    }
  }
  return out as unknown as Matrix
}

/** Places are told apart down to a millionth of a lattice's step. */
const FINENESS = 2 ** 34

/** Exact at whole quarter turns. */
function cosine(degrees: number): number {
  const turned = ((degrees % 360) + 360) % 360
  if (turned % 90 === 0) return [1, 0, -1, 0][turned / 90]
  return Math.cos((turned * Math.PI) / 180)
}
