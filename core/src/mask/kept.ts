import type { Mask } from './schema'

/** What of a mask can serve any other piece: all but pictures, which a project carries, and paint, which stays with its letters. */
export const servesOthers = (mask: Mask): Mask => ({ ...mask, list: mask.list.filter(({ by }) => by !== 'picture' && by !== 'painted') })
