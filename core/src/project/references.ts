import type { PieceReference } from '../document/piece-reference'
import type { Piece, RouteStep } from '../document/schema'
import { inputsOf } from '../steps/fields'
import { stepKind } from '../steps/registry'

/** The pieces that a step works with, as its schema declares them, also where they have no say just now. */
function referencesIn(step: RouteStep): PieceReference[] {
  const kind = stepKind(step.kind)
  return kind ? inputsOf(kind, step.params, true).flatMap(({ references }) => references) : []
}

/** The pieces that a piece is made with, directly or through others; itself only where it leads back to itself. */
export function piecesBehind(pieces: readonly Piece[], id: string): Piece[] {
  const found = new Map<string, Piece>()
  const visit = (at: string) => {
    const piece = pieces.find((p) => p.id === at)
    for (const step of piece?.route ?? []) {
      for (const { piece: other } of referencesIn(step)) {
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
