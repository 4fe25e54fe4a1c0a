import { z } from 'zod'
import type { Piece } from './schema'

/** Another piece of the project that a step works with; empty while none is chosen. */
export const pieceReference = z.object({
  piece: z.string().regex(/^([a-z0-9][a-z0-9-]{0,63})?$/),
  /** as of this step of its route; of the whole route when left out */
  step: z.string().max(64).optional(),
})

export type PieceReference = z.infer<typeof pieceReference>

/** The pieces that a step's parameters name, wherever they stand in them. */
export function referencesIn(params: unknown): PieceReference[] {
  const found: PieceReference[] = []
  const look = (value: unknown, depth: number) => {
    if (value === null || typeof value !== 'object' || depth > 4) return
    if (!Array.isArray(value) && 'piece' in value) {
      const parsed = pieceReference.safeParse(value)
      if (parsed.success && parsed.data.piece) found.push(parsed.data)
    }
    for (const inner of Object.values(value)) look(inner, depth + 1)
  }
  look(params, 0)
  return found
}

/** The pieces that a piece is made with, directly or through others; itself only where it leads back to itself. */
export function piecesBehind(pieces: readonly Piece[], id: string): Piece[] {
  const found = new Map<string, Piece>()
  const visit = (at: string) => {
    const piece = pieces.find((p) => p.id === at)
    for (const step of piece?.route ?? []) {
      for (const { piece: other } of referencesIn(step.params)) {
        const next = pieces.find((p) => p.id === other)
        if (!next || found.has(next.id)) continue
        found.set(next.id, next)
        visit(next.id)
      }
    }
  }
  visit(id)
  return [...found.values()]
}
