import { newId } from '@kelvar/core/document/ids'
import type { Piece, Place } from '@kelvar/core/document/schema'
import { newBlockPiece, newDrawingPiece, newHandDrawnPiece, newPiece, newPlatePiece, newTracedPiece } from '@kelvar/core/project/new-project'
import type { WorkbenchStore } from '../store'

export type NewPiece = 'words' | 'drawing' | 'hand' | 'picture' | 'plate' | 'block'

/** A new piece of words, of a vector file, drawn by hand, traced from a picture, or a plain plate or block. */
export function addPiece(store: WorkbenchStore, of: NewPiece = 'words'): void {
  const { edit, document } = store.getState()
  const id = newId(
    'piece',
    document.pieces.map((p) => p.id),
  )
  edit('New piece', (draft) => {
    const name = `Piece ${draft.pieces.length + 1}`
    draft.pieces.push(
      {
        words: () => newPiece(id, name, 'New words'),
        drawing: () => newDrawingPiece(id, name),
        hand: () => newHandDrawnPiece(id, name),
        picture: () => newTracedPiece(id, name),
        plate: () => newPlatePiece(id, name),
        block: () => newBlockPiece(id, name),
      }[of](),
    )
  })
  store.getState().choosePiece(id)
  store.getState().turnTo(of === 'hand' ? 'Draw' : 'Model')
}

export function removePiece(store: WorkbenchStore, id: string): void {
  store.getState().edit('Remove piece', (draft) => {
    draft.pieces = draft.pieces.filter((p) => p.id !== id)
  })
}

const changePiece = (store: WorkbenchStore, id: string, label: string, recipe: (piece: Piece) => void, gesture?: string): void =>
  store.getState().edit(
    label,
    (draft) => {
      const piece = draft.pieces.find((p) => p.id === id)
      if (piece) recipe(piece)
    },
    gesture,
  )

export const renamePiece = (store: WorkbenchStore, id: string, name: string): void =>
  changePiece(
    store,
    id,
    'Rename piece',
    (piece) => {
      piece.name = name
    },
    `name/${id}`,
  )

/** Puts a piece somewhere else among the others, turns or sizes it; `what` is said of it. */
export const setPlace = (store: WorkbenchStore, id: string, place: Place, what: string, gesture = `place/${id}/${what}`): void =>
  changePiece(
    store,
    id,
    `Place: ${what}`,
    (piece) => {
      piece.place = place
    },
    gesture,
  )

/** Shows a piece among the others, or leaves it out. */
export const setHidden = (store: WorkbenchStore, id: string, hidden: boolean): void =>
  changePiece(store, id, hidden ? 'Hide piece' : 'Show piece', (piece) => {
    if (hidden) piece.hidden = true
    else delete piece.hidden
  })
