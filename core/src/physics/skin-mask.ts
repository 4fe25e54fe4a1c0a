import { MeasuredMask } from '../mask/measure'
import type { Mask } from '../mask/schema'
import type { Solid } from '../solid/solid'

/** What a mask does to a cloth or a balloon's skin, for each of its points. */
export interface SkinMask {
  /** those that stay where they are */
  readonly pinned?: Uint8Array
  /** how much of wind and forces each feels, 0 to 1 */
  readonly felt?: Float64Array
}

/** A mask on the first `points` vertices of a skin as it is at rest: it holds those of a half and more, or limits what acts to where it is. `nowhere`: it does nothing. */
export function skinMask(rest: Solid, points: number, mask: Mask, does: 'hold' | 'limit'): SkinMask & { readonly nowhere: boolean } {
  const measured = new MeasuredMask(rest, mask)
  const weights = Float64Array.from({ length: points }, (_, v) => measured.at(rest.positions, 3 * v, v, v, 0) || 0)
  return does === 'limit'
    ? { felt: weights, nowhere: weights.every((w) => w === 0) }
    : { pinned: Uint8Array.from(weights, (w) => (w >= 0.5 ? 1 : 0)), nowhere: weights.every((w) => w < 0.5) }
}
