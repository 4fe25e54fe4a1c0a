import { refineSolid } from '../solid/refine'
import { type Solid, solidBounds, vertexCount } from '../solid/solid'
import { longer } from '../solid/vertex-table'
import { blurred } from './blur'
import { MeasuredMask } from './measure'
import type { Mask } from './schema'

export interface Masked {
  /** the surface as it was, with vertices where the mask needs them */
  readonly solid: Solid
  /** 0 to 1 a vertex */
  readonly weights: Float32Array
  /** the two vertices each new one is midway between, from the first new one on */
  readonly ends: Int32Array
  /** dabs of the brush on letters that are gone */
  readonly aside: number
}

/** How far a mask may be off between its vertices, and the share of the piece's size below which sides are not parted for it. */
const WITHIN = 0.03
const LEAST_SHARE = 1 / 400
const MOST_TRIANGLES = 600_000

/** A solid with a mask measured on it, refined until the mask is right between its vertices as well. The shape stays as it is. */
export function masked(solid: Solid, mask: Mask): Masked {
  const measured = new MeasuredMask(solid, mask)
  const box = solidBounds(solid.positions)
  const least = Math.max(0.02, LEAST_SHARE * Math.hypot(box[3] - box[0], box[4] - box[1], box[5] - box[2]))
  const longest = measured.grain ** 2
  const ends: number[] = []
  const at = new Float64Array(3)
  const between = (p: Float64Array, a: number, b: number, f: number): number => {
    for (let k = 0; k < 3; k++) at[k] = p[a + k] + f * (p[b + k] - p[a + k])
    return measured.at(at, 0, a / 3, b / 3, f)
  }
  // every vertex is asked for many times
  let known = new Float32Array(2 * vertexCount(solid)).fill(-1)
  const valueAt = (p: Float64Array, v: number): number => {
    if (v >= known.length) {
      const shorter = known.length
      known = longer(known, 2 * v + 16)
      known.fill(-1, shorter)
    }
    if (known[v] < 0) known[v] = measured.at(p, 3 * v, v, v, 0)
    return known[v]
  }
  const fine = refineSolid(
    solid,
    (p, a, b) => {
      const square = (p[a] - p[b]) ** 2 + (p[a + 1] - p[b + 1]) ** 2 + (p[a + 2] - p[b + 2]) ** 2
      if (square < least * least) return false
      if (square > longest) return true
      const u = valueAt(p, a / 3)
      const v = valueAt(p, b / 3)
      return (
        Math.abs(between(p, a, b, 0.5) - 0.5 * (u + v)) > WITHIN ||
        Math.abs(between(p, a, b, 0.25) - 0.75 * u - 0.25 * v) > WITHIN ||
        Math.abs(between(p, a, b, 0.75) - 0.25 * u - 0.75 * v) > WITHIN
      )
    },
    {
      most: MOST_TRIANGLES,
      longest: true,
      made(v, a, b) {
        measured.addMiddle(v, a, b)
        ends.push(a, b)
      },
    },
  )
  const whole = fine ?? solid
  const weights = new Float32Array(vertexCount(whole))
  for (let v = 0; v < weights.length; v++) weights[v] = valueAt(whole.positions, v)
  return { solid: whole, weights: blurred(weights, whole.positions, whole.indices, mask.blur), ends: Int32Array.from(fine ? ends : []), aside: measured.aside }
}
