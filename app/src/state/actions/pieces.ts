import { stepKind } from '@kelvar/core/steps/registry'
import { newId } from '@kelvar/core/document/ids'
import { momentOf, pieceAtRest, placePart } from '@kelvar/core/document/moment'
import type { Piece, Place, PlaceTrack } from '@kelvar/core/document/schema'
import { cutText } from '@kelvar/core/document/words'
import { type Track, valueAt } from '@kelvar/core/motion/track'
import { newBlockPiece, newDrawingPiece, newHandDrawnPiece, newOutlinePiece, newPiece, newPlatePiece, newTracedPiece } from '@kelvar/core/project/new-project'
import { mayGive } from '@kelvar/core/steps/registry'
import type { WorkbenchStore } from '../store'
import { follows } from '../work'
import { withKey } from './tracks'

export type NewPiece = 'words' | 'drawing' | 'hand' | 'picture' | 'outline' | 'plate' | 'block'

/** Kinds that are empty until something is drawn or chosen. */
const EMPTY_AT_FIRST: readonly NewPiece[] = ['drawing', 'hand', 'picture']

/**
 * A new piece of words, of a vector file, drawn by hand, traced from a picture, out of the piece in hand, or a plain plate or block. It is turned to; where it is `wanted` by a step of the
 * piece in hand, which is told of it first, only when it has to be drawn or chosen yet.
 */
export function addPiece(store: WorkbenchStore, of: NewPiece = 'words', wanted?: (id: string) => void): void {
  const { edit, document, pieceId } = store.getState()
  const id = newId(
    'piece',
    document.pieces.map((p) => p.id),
  )
  // what gives no outline cannot be taken; another piece can be chosen
  const drawn = document.pieces.find((p) => p.id === pieceId && p.route.some(({ kind }) => mayGive(kind, ['outline'])))
  edit('New piece', (draft) => {
    const name = `Piece ${draft.pieces.length + 1}`
    draft.pieces.push(
      {
        words: () => newPiece(id, name, 'New words'),
        drawing: () => newDrawingPiece(id, name),
        hand: () => newHandDrawnPiece(id, name),
        picture: () => newTracedPiece(id, name),
        outline: () => newOutlinePiece(id, name, drawn?.id ?? ''),
        plate: () => newPlatePiece(id, name),
        block: () => newBlockPiece(id, name),
      }[of](),
    )
  })
  wanted?.(id)
  if (wanted && !EMPTY_AT_FIRST.includes(of)) return
  store.getState().choosePiece(id)
  store.getState().turnTo(of === 'hand' ? 'Draw' : 'Model')
}

/** The piece that is looked at as it is at the frame that is shown, as a piece of its own: none of its values moves, and further steps can work on it. */
export function takeFrame(store: WorkbenchStore, rate: number): void {
  const { edit, document, pieceId, frame } = store.getState()
  const piece = document.pieces.find(({ id }) => id === pieceId)
  if (!piece) return
  const id = newId(
    'piece',
    document.pieces.map((p) => p.id),
  )
  edit(`Take frame ${frame}`, (draft) => {
    const at = draft.pieces.findIndex((p) => p.id === piece.id)
    // what follows its piece is what it is by the way it went
    const way = follows(piece.route) && piece.tracks ? { tracks: piece.tracks } : {}
    draft.pieces.splice(at + 1, 0, {
      ...pieceAtRest(piece, momentOf(frame, rate), ({ kind }) => stepKind(kind)?.overTime ?? []),
      ...way,
      id,
      name: cutText(`${piece.name} · frame ${frame}`, 80),
    })
  })
  store.getState().choosePiece(id)
  store.getState().turnTo('Model')
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
export function setPlace(store: WorkbenchStore, id: string, place: Place, what: string, gesture = `place/${id}/${what}`): void {
  const { frame, document } = store.getState()
  const before = document.pieces.find((piece) => piece.id === id)
  const moving = Object.entries(before?.tracks ?? {}) as [PlaceTrack, Track][]
  changePiece(
    store,
    id,
    `Place: ${what}`,
    (piece) => {
      piece.place = place
      // what moves gets a key at the frame that is seen
      for (const [name, track] of moving) {
        const value = placePart(place, name)
        if (piece.tracks && value !== valueAt(track, frame)) piece.tracks[name] = withKey(track, frame, value)
      }
    },
    gesture,
  )
}

/** Changes what of a piece's place moves, by its part; undefined lets it stand still. */
export const setPlaceTracks = (
  store: WorkbenchStore,
  id: string,
  tracks: Readonly<Partial<Record<PlaceTrack, Track | undefined>>>,
  label: string,
  gesture?: string,
): void =>
  changePiece(
    store,
    id,
    label,
    (piece) => {
      const all = { ...piece.tracks }
      for (const [name, track] of Object.entries(tracks) as [PlaceTrack, Track | undefined][]) {
        if (track) all[name] = track
        else delete all[name]
      }
      if (Object.keys(all).length > 0) piece.tracks = all
      else delete piece.tracks
    },
    gesture,
  )

/** Shows a piece among the others, or leaves it out. */
export const setHidden = (store: WorkbenchStore, id: string, hidden: boolean): void =>
  changePiece(store, id, hidden ? 'Hide piece' : 'Show piece', (piece) => {
    if (hidden) piece.hidden = true
    else delete piece.hidden
  })
