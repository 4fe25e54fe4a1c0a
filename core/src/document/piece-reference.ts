import { z } from 'zod'

/** Another piece of the project that a step works with; empty while none is chosen. */
export const pieceReference = z.object({
  piece: z.string().regex(/^([a-z0-9][a-z0-9-]{0,63})?$/),
  /** as of this step of its route; of the whole route when left out */
  step: z.string().max(64).optional(),
})

export type PieceReference = z.infer<typeof pieceReference>
