import { newId } from '@kelvar/core/document/ids'
import { MAX_TRY_OUTS, type Piece, type RouteStep, type TryOut } from '@kelvar/core/document/schema'
import type { WorkbenchStore } from '../store'
import { currentPiece } from '../work'

/** What belongs to the words and not to how they are made: a try-out takes these from the piece as it is now. */
const WORDS: readonly string[] = ['text', 'letters']

/** A try-out's route with the piece's present words: words that change late change in every try-out as well. */
export function withPresentWords(tryOut: TryOut, piece: Piece): RouteStep[] {
  const present = piece.route.filter((step) => step.kind === 'lettering')
  return tryOut.route.map((step) => {
    const now = step.kind === 'lettering' ? present.find((s) => s.id === step.id) : undefined
    if (!now) return step
    const words = Object.fromEntries(WORDS.filter((name) => name in now.params).map((name) => [name, now.params[name]]))
    return { ...step, params: { ...step.params, ...words } }
  })
}

/** Keeps the present values of the piece in hand. */
export function keepTryOut(store: WorkbenchStore): void {
  const { edit, pieceId } = store.getState()
  const kept = currentPiece(store.getState())
  if (!kept || (kept.tryOuts?.length ?? 0) >= MAX_TRY_OUTS) return
  const id = newId(
    'try-out',
    (kept.tryOuts ?? []).map((t) => t.id),
  )
  const taken = new Set((kept.tryOuts ?? []).map((t) => t.name))
  let number = 1
  while (taken.has(`Try-out ${number}`)) number++
  edit(`Keep try-out ${number}`, (draft) => {
    const piece = draft.pieces.find((p) => p.id === pieceId)
    if (!piece) return
    piece.tryOuts ??= []
    piece.tryOuts.push({ id, name: `Try-out ${number}`, route: structuredClone(kept.route) })
  })
}

/** Makes the piece in hand as a try-out says, with its present words. */
export function takeTryOut(store: WorkbenchStore, tryOut: TryOut): void {
  const { edit, pieceId } = store.getState()
  const kept = currentPiece(store.getState())
  if (!kept) return
  const route = withPresentWords(tryOut, kept)
  edit(`Take ${tryOut.name}`, (draft) => {
    const piece = draft.pieces.find((p) => p.id === pieceId)
    if (piece) piece.route = structuredClone(route)
  })
}

export function renameTryOut(store: WorkbenchStore, id: string, name: string): void {
  const { edit, pieceId } = store.getState()
  edit(
    'Rename a try-out',
    (draft) => {
      const tryOut = draft.pieces.find((p) => p.id === pieceId)?.tryOuts?.find((t) => t.id === id)
      if (tryOut) tryOut.name = name
    },
    `try-out/${id}`,
  )
}

export function removeTryOut(store: WorkbenchStore, { id, name }: TryOut): void {
  const { edit, pieceId } = store.getState()
  edit(`Remove ${name}`, (draft) => {
    const piece = draft.pieces.find((p) => p.id === pieceId)
    if (piece?.tryOuts) piece.tryOuts = piece.tryOuts.filter((t) => t.id !== id)
  })
}
