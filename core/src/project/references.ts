import { pieceReference } from '../document/piece-reference'
import type { Piece, RouteStep } from '../document/schema'
import { fieldsOf, inputsOf } from '../steps/fields'
import { stepKind } from '../steps/registry'

/** The pieces that a step is made with, as its schema declares them, also where they have no say just now. */
function madeWith(step: RouteStep): string[] {
  const kind = stepKind(step.kind)
  return kind ? inputsOf(kind, step.params, true).flatMap(({ references }) => references.map(({ piece }) => piece)) : []
}

/** The pieces whose steps tell a step values. */
function followedBy(step: RouteStep): string[] {
  const kind = stepKind(step.kind)
  return kind
    ? fieldsOf(kind).flatMap(([name, { settingsOf }]) => {
        const reference = settingsOf ? pieceReference.safeParse(step.params[name]) : undefined
        return reference?.success && reference.data.piece ? [reference.data.piece] : []
      })
    : []
}

/** The pieces that a piece is made with, directly or through others; itself only where it leads back to itself. */
export function piecesBehind(pieces: readonly Piece[], id: string): Piece[] {
  const found = new Map<string, Piece>()
  const visit = (at: string) => {
    for (const step of pieces.find((p) => p.id === at)?.route ?? []) {
      for (const other of madeWith(step)) {
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

/** All pieces that making one needs to know: those it is made with, and those whose values any of them follows. */
export function piecesNeeded(pieces: readonly Piece[], id: string): Piece[] {
  const behind = piecesBehind(pieces, id)
  const followed = pieces.filter(
    (p) =>
      p.id !== id &&
      !behind.includes(p) &&
      [id, ...behind.map((b) => b.id)].some((at) => pieces.find((q) => q.id === at)?.route.some((step) => followedBy(step).includes(p.id))),
  )
  return [...behind, ...followed]
}
