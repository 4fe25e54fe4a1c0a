import { momentOf } from '@kelvar/core/document/moment'
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

/** Whether anything that a piece is made of moves. */
const moves = ({ route, others }: Work): boolean =>
  [route, ...others.map((p) => p.route)].some((steps) => steps.some(({ tracks }) => tracks !== undefined && Object.keys(tracks).length > 0))

const moments = new WeakMap<Work, Work>()

/** The same for the piece in hand, at the frame that is shown; one that stands still is the same at every frame. */
export function currentWork({ document, pieceId, frame }: Pick<WorkbenchState, 'document' | 'pieceId' | 'frame'>): Work | undefined {
  const work = workOf(document, pieceId)
  if (!work || frame === 0 || !moves(work)) return work
  const known = moments.get(work)
  if (known?.moment?.frame === frame) return known
  const then: Work = { ...work, moment: momentOf(frame, rateOf(document)) }
  moments.set(work, then)
  return then
}

/** Frames a second, and how many a film has, where a project says nothing of it. */
const RATE = 24
const FRAMES = 96

export const rateOf = ({ time }: Pick<ProjectDocument, 'time'>): number => time?.rate ?? RATE
export const framesOf = ({ time }: Pick<ProjectDocument, 'time'>): number => time?.frames ?? FRAMES

export function currentPiece(state: Pick<WorkbenchState, 'document' | 'pieceId'>): Piece | undefined {
  return state.document.pieces.find((p) => p.id === state.pieceId)
}
