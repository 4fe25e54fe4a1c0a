import { momentOf, placeAt, piecesAt } from '@kelvar/core/document/moment'
import { type Track, valueAt } from '@kelvar/core/motion/track'
import { piecesNeeded } from '@kelvar/core/project/references'
import { effectiveParams } from '@kelvar/core/steps/fields'
import { stepKind } from '@kelvar/core/steps/registry'
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
  const placed = others.length > 0 || goesByTime(piece.route)
  const rate = rateOf(document)
  if (
    known?.piece === pieceId &&
    known.others.length === others.length &&
    (!placed || (known.place === piece.place && known.tracks === piece.tracks && known.rate === rate)) &&
    known.others.every((p, i) => p.route === others[i].route && p.name === others[i].name && p.place === others[i].place && p.tracks === others[i].tracks)
  )
    return known
  const work: Work = {
    piece: pieceId,
    route: piece.route,
    others,
    ...(piece.place ? { place: piece.place } : {}),
    ...(piece.tracks ? { tracks: piece.tracks } : {}),
    rate,
  }
  works.set(piece.route, work)
  return work
}

/** Whether a step of a route follows how its piece moves about. */
export const follows = (route: readonly RouteStep[]): boolean =>
  route.some((step) => {
    const kind = step.on ? stepKind(step.kind) : undefined
    return kind?.travels?.(effectiveParams(kind, step.params)) ?? false
  })

/** Whether what a route makes depends on a film's pace: by what it follows, or by a value that a step is made of over time. */
const goesByTime = (route: readonly RouteStep[]): boolean =>
  follows(route) || route.some((step) => step.on && stepKind(step.kind)?.overTime?.some((name) => step.tracks?.[name]))

/** All values that move in what a piece is made of; where it stands has a say only where it is made with others. */
const tracksOf = ({ route, others, tracks }: Work): Track[] => [
  ...[route, ...others.map((p) => p.route)].flatMap((steps) => steps.flatMap((step) => Object.values(step.tracks ?? {}))),
  ...(others.length > 0 ? [tracks, ...others.map((p) => p.tracks)].flatMap((list) => Object.values(list ?? {})) : []),
]

/** Up to so many triangles a step's result is light: it is checked, or seen in a picture, in less than a tenth of a second. */
const LIGHT = 12_000

const lightWorks = new WeakSet<Work>()

/** Whether all that the steps of a piece make is known to be light. */
export const isLight = (work: Work): boolean => lightWorks.has(work)

/** Remembers how many triangles the steps of a piece make, as far as it is known. */
export function weigh(work: Work, triangles: readonly number[]): void {
  if (triangles.every((count) => count <= LIGHT)) lightWorks.add(work)
  else lightWorks.delete(work)
}

/** Whether anything that a piece is made of moves. */
export const moves = (work: Work): boolean => tracksOf(work).length > 0

const moments = new WeakMap<Work, Map<number, Work>>()

/** What the workers need to make a piece at a frame; one that stands still is the same at every frame. */
export function workAt(document: ProjectDocument, pieceId: string, frame: number): Work | undefined {
  const work = workOf(document, pieceId)
  if (!work || frame === 0 || !moves(work)) return work
  const frames = moments.get(work) ?? new Map<number, Work>()
  moments.set(work, frames)
  const moment = momentOf(frame, rateOf(document))
  const known = frames.get(frame)
  if (known?.moment?.seconds === moment.seconds) return known
  const place = placeAt(work, frame)
  const then: Work = { ...work, moment, ...(place ? { place } : {}), others: piecesAt(work.others, frame) }
  frames.set(frame, then)
  return then
}

/** The same for the piece in hand, at the frame that is shown. */
export const currentWork = ({ document, pieceId, frame }: Pick<WorkbenchState, 'document' | 'pieceId' | 'frame'>): Work | undefined =>
  workAt(document, pieceId, frame)

const numbers = new WeakMap<RouteStep[], number>()
let count = 0
const numberOf = (route: RouteStep[]): number => {
  const known = numbers.get(route)
  if (known !== undefined) return known
  numbers.set(route, ++count)
  return count
}

const contents = new WeakMap<Work, Map<number, string>>()

/**
 * What a piece at a frame is made of, as a word: equal for frames at which all that moves has equal values. `work` is the piece's own, of no moment (workOf); worked out
 * once, since all frames are asked for again and again.
 */
export function contentAt(work: Work, frame: number): string {
  const known = contents.get(work) ?? new Map<number, string>()
  contents.set(work, known)
  let content = known.get(frame)
  if (content === undefined) known.set(frame, (content = contentOf(work, frame)))
  return content
}

function contentOf(work: Work, frame: number): string {
  const made = [
    work.piece,
    numberOf(work.route),
    work.others.map(({ name, route, place }) => [name, numberOf(route), place]),
    work.others.length > 0 ? work.place : 0,
    // what follows its piece depends on all of its way, whatever the frame
    [work, ...work.others].map(({ route, place, tracks }) => (goesByTime(route) ? [place, tracks, work.rate] : 0)),
  ]
  return JSON.stringify([made, tracksOf(work).map((track) => valueAt(track, frame))])
}

/** The same for a small picture: of one that moves in the middle of its time, since at first there may be nothing of it. */
export const workForPicture = (document: ProjectDocument, pieceId: string): Work | undefined => workAt(document, pieceId, Math.round(0.6 * framesOf(document)))

/** Frames a second, and how many a film has, where a project says nothing of it. */
const RATE = 24
const FRAMES = 96

export const rateOf = ({ time }: Pick<ProjectDocument, 'time'>): number => time?.rate ?? RATE
export const framesOf = ({ time }: Pick<ProjectDocument, 'time'>): number => time?.frames ?? FRAMES

export function currentPiece(state: Pick<WorkbenchState, 'document' | 'pieceId'>): Piece | undefined {
  return state.document.pieces.find((p) => p.id === state.pieceId)
}
