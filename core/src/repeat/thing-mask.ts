import { MeasuredMask } from '../mask/measure'
import type { Mask } from '../mask/schema'
import { NONE } from '../solid/labels'
import type { Apart } from './apart'
import { pointSolid } from './vary'

/** How strong a mask is at the middle of each thing, 0 to 1; 1 everywhere where the mask has no entries. */
export function thingWeights({ assembly, things }: Pick<Apart, 'assembly' | 'things'>, mask: Mask): Float64Array {
  if (mask.list.length === 0) return new Float64Array(things.length).fill(1)
  const middles = thingMiddles({ things })
  const measured = new MeasuredMask(
    pointSolid(
      assembly,
      middles,
      things.map(({ letters }) => letters[0] ?? NONE),
    ),
    mask,
  )
  return Float64Array.from({ length: things.length }, (_, i) => measured.at(middles, 3 * i, i, i, 0))
}

/** The middle of each thing's box, x, y, z, mm. */
export const thingMiddles = ({ things }: Pick<Apart, 'things'>): Float64Array =>
  Float64Array.from({ length: 3 * things.length }, (_, i) => {
    const { box } = things[Math.floor(i / 3)]
    return (box[i % 3] + box[(i % 3) + 3]) / 2
  })
