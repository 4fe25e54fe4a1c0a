import type { Matrix } from '../solid/operations'
import { placeAt } from './moment'
import { relativePlace, UNMOVED_PLACE } from './place'
import type { Piece, Place } from './schema'

/** How a piece moves about while a film runs. */
export interface Travel {
  /** where it stands at the first frame */
  readonly place: Place
  readonly tracks: NonNullable<Piece['tracks']>
  /** frames a second */
  readonly rate: number
}

/** The travel of a piece; undefined where nothing of its place moves. */
export function travelOf(place: Place | undefined, tracks: Piece['tracks'], rate: number | undefined): Travel | undefined {
  if (!tracks || rate === undefined || Object.keys(tracks).length === 0) return undefined
  return { place: placeAt({ place, tracks }, 0) ?? UNMOVED_PLACE, tracks, rate }
}

/** What brings the piece's coordinates at a moment, s, into those it has at the first frame, and back. */
export function travelled({ place, tracks, rate }: Travel, seconds: number): { readonly to: Matrix; readonly back: Matrix } {
  const now = placeAt({ place, tracks }, seconds * rate) ?? place
  return { to: relativePlace(place, now), back: relativePlace(now, place) }
}
