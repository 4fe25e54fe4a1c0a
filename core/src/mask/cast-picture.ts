import { type Solid, solidBounds } from '../solid/solid'
import { NearestTriangle } from '../volume/nearest-triangle'
import { type GreyPicture, lightAt } from './pictures'
import type { MaskEntry } from './schema'

/**
 * How light a picture is on a solid, 0 to 1, where it is cast on it from one side or from three. It lies over the middle of the solid's box and covers it, or is
 * `wide` mm wide and goes on over and over. `grain` is how fine the surface has to be to show it, mm.
 */
export function castPicture(picture: GreyPicture, { cast: from, wide: given }: Pick<MaskEntry, 'cast' | 'wide'>, solid: Solid) {
  const shape = picture.width / picture.height
  const box = solidBounds(solid.positions)
  const sides = from === 'sides' ? CAST_FROM : [from]
  // one width for all, so that its grain is as coarse from each
  const wide = given > 0 ? given : Math.max(...sides.map((side) => widest(box, side, shape)), 1e-9)
  const cast = sides.map((side) => castOf(picture, box, side, wide, given > 0))
  const across = Math.max(...sides.flatMap(acrossOf).map((axis) => box[axis + 3] - box[axis]))
  const grain = Math.max(wide / picture.width / 2, wide / 16, across / 64)
  if (cast.length === 1) return { grain, at: cast[0] }
  const facing = facingOf(solid)
  return {
    grain,
    at: (p: Float64Array, o: number) => {
      // from where it is seen straight on it counts by far the most
      const shares = facing(p, o)
      let [sum, whole] = [0, 0]
      cast.forEach((light, i) => {
        const share = shares[CAST_ALONG[i]] ** 4
        if (share === 0) return
        sum += share * light(p, o)
        whole += share
      })
      return whole > 0 ? sum / whole : 0
    },
  }
}

/** The places from which a picture is cast, and the axis each looks along. */
const CAST_FROM = ['front', 'above', 'side'] as const
const CAST_ALONG = [2, 1, 0] as const

/** Which way is to the right and which upwards as one looks from there. */
const acrossOf = (cast: MaskEntry['cast']) => (cast === 'front' ? [0, 1] : cast === 'above' ? [0, 2] : [2, 1])

/** How wide a picture of that shape is that covers all of a box, seen from there, mm. */
function widest(box: ArrayLike<number>, cast: MaskEntry['cast'], shape: number): number {
  const [k, l] = acrossOf(cast)
  return Math.max(box[k + 3] - box[k], (box[l + 3] - box[l]) * shape)
}

/** How light a picture is at a place, cast from one side over the middle of a box. */
function castOf(picture: GreyPicture, box: ArrayLike<number>, cast: MaskEntry['cast'], wide: number, again: boolean): (p: Float64Array, o: number) => number {
  const [k, l] = acrossOf(cast)
  const high = (wide * picture.height) / picture.width
  const [middle, level] = [(box[k] + box[k + 3]) / 2, (box[l] + box[l + 3]) / 2]
  // seen from above what is further away is higher in the picture, seen from the right what is nearer is on the left
  const [right, up] = [cast === 'side' ? -1 : 1, cast === 'above' ? -1 : 1]
  return (p, o) => lightAt(picture, 0.5 + (right * (p[o + k] - middle)) / wide, 0.5 + (up * (p[o + l] - level)) / high, again)
}

/** How much a surface looks along x, y and z at a place on it, each 0 to 1: by the triangle it lies on. */
function facingOf({ positions: q, indices }: Solid): (p: Float64Array, o: number) => readonly number[] {
  const near = new NearestTriangle({ positions: q, indices })
  const shares = [0, 0, 0]
  return (p, o) => {
    near.from(p[o], p[o + 1], p[o + 2], Infinity, -1)
    const t = 3 * near.triangle
    const [a, b, c] = [3 * indices[t], 3 * indices[t + 1], 3 * indices[t + 2]]
    const [ux, uy, uz] = [q[b] - q[a], q[b + 1] - q[a + 1], q[b + 2] - q[a + 2]]
    const [vx, vy, vz] = [q[c] - q[a], q[c + 1] - q[a + 1], q[c + 2] - q[a + 2]]
    shares[0] = Math.abs(uy * vz - uz * vy)
    shares[1] = Math.abs(uz * vx - ux * vz)
    shares[2] = Math.abs(ux * vy - uy * vx)
    const size = Math.hypot(shares[0], shares[1], shares[2]) || 1
    for (let k = 0; k < 3; k++) shares[k] /= size
    return shares
  }
}
