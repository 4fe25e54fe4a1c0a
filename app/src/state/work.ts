import { piecesNeeded } from '@kelvar/core/project/references'
import type { Piece, ProjectDocument, RouteStep } from '@kelvar/core/document/schema'
import type { Work } from '@/workers/messages'
import type { WorkbenchState } from './store'

const works = new WeakMap<RouteStep[], Work>()

/**
 * What the workers need to make a piece, by its own route or by another; the same object as long as neither that nor what it
 * is made with has changed.
 */
export function workOf(document: ProjectDocument, pieceId: string, route?: RouteStep[]): Work | undefined {
  const found = document.pieces.find((p) => p.id === pieceId)
  if (!found) return undefined
  const piece = route ? { ...found, route } : found
  const others = piecesNeeded(route ? document.pieces.map((p) => (p === found ? piece : p)) : document.pieces, pieceId)
  const known = works.get(piece.route)
  if (
    known?.piece === pieceId &&
    known.others.length === others.length &&
    (others.length === 0 || known.place === piece.place) &&
    known.others.every((p, i) => p.route === others[i].route && p.name === others[i].name && p.place === others[i].place)
  )
    return known
  const work: Work = { piece: pieceId, route: piece.route, others, ...(piece.place ? { place: piece.place } : {}) }
  works.set(piece.route, work)
  return work
}

/** The same for the piece in hand. */
export const currentWork = (state: Pick<WorkbenchState, 'document' | 'pieceId'>): Work | undefined => workOf(state.document, state.pieceId)

export function currentPiece(state: Pick<WorkbenchState, 'document' | 'pieceId'>): Piece | undefined {
  return state.document.pieces.find((p) => p.id === state.pieceId)
}
