import type { Board } from '@kelvar/core/document/schema'
import type { WorkbenchStore } from '../store'
import { type CarriedFile, carryAsset } from './files'

/** Changes what lies on the board of the piece in hand. */
export function setBoard(store: WorkbenchStore, label: string, recipe: (board: Board) => void, gesture?: string): void {
  const { edit, pieceId } = store.getState()
  edit(
    label,
    (draft) => {
      const piece = draft.pieces.find((p) => p.id === pieceId)
      if (!piece) return
      piece.board ??= { guides: [] }
      recipe(piece.board)
    },
    gesture,
  )
}

/** Lays a picture under the drawing board of a piece, where the last one lay. False when the piece is gone. */
export function layUnder(store: WorkbenchStore, pieceId: string, file: CarriedFile): boolean {
  if (!store.getState().document.pieces.some((p) => p.id === pieceId)) return false
  store.getState().edit(`Lay ${file.name} under the drawing`, (draft) => {
    const piece = draft.pieces.find((p) => p.id === pieceId)
    if (!piece) return
    piece.board ??= { guides: [] }
    const { x = -60, y = 0, width = 120, opacity = 0.5 } = piece.board.picture ?? {}
    piece.board.picture = { sha256: file.sha256, name: file.name, x, y, width, opacity }
    carryAsset(draft, file, 'picture')
  })
  return true
}
