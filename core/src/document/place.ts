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

type Vector = readonly [number, number, number]

/** The turn of a place whose piece's x, y and z lie along three unit vectors at right angles, degrees. */
export function turnOf(x: Vector, y: Vector, z: Vector): [number, number, number] {
  const degrees = (radians: number) => Number(((radians * 180) / Math.PI).toFixed(4)) + 0
  const sine = Math.max(-1, Math.min(1, -x[2]))
  // straight up or down: only the difference of the other two has a say
  if (Math.abs(sine) > 1 - 1e-9) return [degrees(Math.atan2(sine * y[0], y[1])), degrees((Math.sign(sine) * Math.PI) / 2), 0]
  return [degrees(Math.atan2(y[2], z[2])), degrees(Math.asin(sine)), degrees(Math.atan2(x[1], x[0]))]
}

/** A place turned further about the upright direction through a point, degrees. */
export function turnedUpright(place: Place, by: number, [px, , pz]: Vector): Place {
  const m = placeMatrix({ ...place, size: 1 })
  const [c, s] = [cosine(by), cosine(by - 90)]
  const turned = (x: number, y: number, z: number): [number, number, number] => [c * x + s * z, y, c * z - s * x]
  const [dx, , dz] = turned(place.position[0] - px, 0, place.position[2] - pz)
  return {
    ...place,
    position: [px + dx, place.position[1], pz + dz],
    turn: turnOf(turned(m[0], m[4], m[8]), turned(m[1], m[5], m[9]), turned(m[2], m[6], m[10])),
  }
}

/** The box about a piece at its place: [minX, minY, minZ, maxX, maxY, maxZ] of its own in, the project's out, mm. */
export function boxAt(box: readonly number[], place: Place): [number, number, number, number, number, number] {
  const m = placeMatrix(place)
  const out: [number, number, number, number, number, number] = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]
  for (let corner = 0; corner < 8; corner++) {
    const [x, y, z] = [box[corner & 1 ? 3 : 0], box[corner & 2 ? 4 : 1], box[corner & 4 ? 5 : 2]]
    for (let k = 0; k < 3; k++) {
      const v = m[4 * k] * x + m[4 * k + 1] * y + m[4 * k + 2] * z + m[4 * k + 3]
      out[k] = Math.min(out[k], v)
      out[k + 3] = Math.max(out[k + 3], v)
    }
  }
  return out
}

/** The place moved so that the piece stands on the ground, y = 0. */
export function onGround(box: readonly number[], place: Place): Place {
  const [x, y, z] = place.position
  return { ...place, position: [x, y - boxAt(box, place)[1], z] }
}

/** The place at which the middle of a piece's back lies on a face, at a point of it; as upright as the face lets it stand. */
export function againstFace(box: readonly number[], { size }: Place, point: Vector, normal: Vector): Place {
  const lying = Math.hypot(normal[0], normal[2]) < 1e-3
  const l = Math.hypot(normal[0], normal[2]) || 1
  // along the face and level; on what lies level itself along x
  const x: Vector = lying ? [1, 0, 0] : [normal[2] / l, 0, -normal[0] / l]
  const y: Vector = [normal[1] * x[2] - normal[2] * x[1], normal[2] * x[0] - normal[0] * x[2], normal[0] * x[1] - normal[1] * x[0]]
  const [cx, cy, back] = [(box[0] + box[3]) / 2, (box[1] + box[4]) / 2, box[2]]
  const position = [0, 1, 2].map((k) => point[k] - size * (cx * x[k] + cy * y[k] + back * normal[k])) as [number, number, number]
  return { position, turn: turnOf(x, y, normal), size }
}

/**
 * How far to move a box so that its sides or middle come to lie at those of others, along x, y or z, where that is nearer than `reach`, mm: the
 * smallest such move, and what of which box it is held to; undefined where nothing is near enough.
 */
export function heldTo(
  box: readonly number[],
  others: readonly { readonly name: string; readonly box: readonly number[] }[],
  axis: 0 | 1 | 2,
  reach: number,
): { readonly by: number; readonly to: string } | undefined {
  const marks = (b: readonly number[]) => [
    { at: b[axis], what: 'side' },
    { at: (b[axis] + b[axis + 3]) / 2, what: 'middle' },
    { at: b[axis + 3], what: 'side' },
  ]
  let best: { by: number; to: string } | undefined
  for (const other of others)
    for (const theirs of marks(other.box))
      for (const ours of marks(box)) {
        // a middle is held to middles only: to a side it would stand half over
        if ((ours.what === 'middle') !== (theirs.what === 'middle')) continue
        const by = theirs.at - ours.at
        if (Math.abs(by) <= reach && (!best || Math.abs(by) < Math.abs(best.by))) best = { by, to: `${other.name}’s ${theirs.what}` }
      }
  return best
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
