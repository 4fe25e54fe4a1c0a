import { servesOthers } from '@kelvar/core/mask/kept'
import { type Mask, maskSchema } from '@kelvar/core/mask/schema'
import type { EntityManager } from '@mikro-orm/postgresql'
import { z } from 'zod'
import { KeptMask } from './entities'
import { full, keepByName, nameToKeep } from './kept'

export const MAX_MASKS = 500

/** A mask as the browser sends it. */
export const maskToKeep = z.object({
  name: nameToKeep('mask'),
  mask: maskSchema.refine(
    (mask) => mask.list.length > 0 && servesOthers(mask).list.length === mask.list.length,
    'A mask that is kept has one entry at least, and none that is painted or goes by a picture.',
  ),
})

export interface MaskInCabinet {
  readonly id: string
  readonly name: string
  readonly mask: Mask
}

/** The kept masks by name; what has become unreadable is left out. */
export async function listMasks(em: EntityManager): Promise<MaskInCabinet[]> {
  const rows = await em.findAll(KeptMask, { orderBy: { name: 'asc', createdAt: 'asc' }, limit: MAX_MASKS })
  return rows.flatMap(({ id, name, mask }) => {
    const read = maskSchema.safeParse(mask)
    return read.success ? [{ id, name, mask: read.data }] : []
  })
}

/** Keeps a mask under its name, over an older one of that name. */
export async function keepMask(em: EntityManager, { name, mask }: z.infer<typeof maskToKeep>): Promise<{ mask: MaskInCabinet } | ReturnType<typeof full>> {
  const id = await keepByName(em, { name: 'mask', column: 'mask' }, name, mask, MAX_MASKS)
  return id === undefined ? full(MAX_MASKS, 'masks') : { mask: { id, name, mask } }
}

/** False when there was none. */
export async function removeMask(em: EntityManager, id: string): Promise<boolean> {
  return (await em.nativeDelete(KeptMask, { id })) > 0
}
