import { type Track, valueAt } from '../motion/track'
import { UNMOVED_PLACE } from './place'
import type { Piece, Place, PlaceTrack, RouteStep } from './schema'

/** A point of a project's time. */
export interface Moment {
  /** counted from 0 */
  readonly frame: number
  /** seconds from the start */
  readonly seconds: number
}

export const START: Moment = { frame: 0, seconds: 0 }

/** A step's values at a moment, and whether they are others at other moments. */
export interface ParamsAtMoment {
  readonly params: Readonly<Record<string, unknown>>
  /** whether the step is switched on */
  readonly on: boolean
  readonly moving: boolean
}

/** What a step's parameters are at a moment. Steps know nothing of time: this is asked before their values are parsed. */
export type ParamsAt = (step: RouteStep, moment: Moment) => ParamsAtMoment

/** The moment of a frame. */
export const momentOf = (frame: number, rate: number): Moment => ({ frame, seconds: frame / rate })

/** The name under which a step's own switch is keyed. */
export const SWITCH = 'on'

/** A step's parameters at a moment: those that have a track have its value, all others are as they are. What is inside of one is named “front.inset”. */
export function paramsAtMoment({ params, on, tracks }: RouteStep, { frame }: Moment): ParamsAtMoment {
  const entries = Object.entries(tracks ?? {})
  if (entries.length === 0) return { params, on, moving: false }
  let out: Readonly<Record<string, unknown>> = params
  let switched = on
  for (const [path, track] of entries) {
    const value = valueAt(track, frame)
    if (path === SWITCH) switched = value === true
    else out = withValue(out, path.split('.'), value)
  }
  return { params: out, on: switched, moving: true }
}

/** What a place's moving parts are in it, and how far they may go. */
const PARTS: Readonly<Record<PlaceTrack, { readonly of: 'position' | 'turn' | 'size'; readonly at: number; readonly least: number; readonly most: number }>> = {
  x: { of: 'position', at: 0, least: -1e6, most: 1e6 },
  y: { of: 'position', at: 1, least: -1e6, most: 1e6 },
  z: { of: 'position', at: 2, least: -1e6, most: 1e6 },
  turnX: { of: 'turn', at: 0, least: -1e6, most: 1e6 },
  turnY: { of: 'turn', at: 1, least: -1e6, most: 1e6 },
  turnZ: { of: 'turn', at: 2, least: -1e6, most: 1e6 },
  size: { of: 'size', at: 0, least: 0.001, most: 1000 },
}

/** One part of a place. */
export function placePart(place: Place, name: PlaceTrack): number {
  const { of, at } = PARTS[name]
  return of === 'size' ? place.size : place[of][at]
}

/** A place with one part of it anew. */
export function withPlacePart(place: Place, name: PlaceTrack, value: number): Place {
  const { of, at, least, most } = PARTS[name]
  const held = Math.min(most, Math.max(least, value))
  if (of === 'size') return { ...place, size: held }
  return { ...place, [of]: place[of].map((v, k) => (k === at ? held : v)) }
}

/** Where a piece stands at a frame; undefined where it was never moved. */
export function placeAt({ place, tracks }: Pick<Piece, 'place' | 'tracks'>, frame: number): Place | undefined {
  let out = place
  for (const [name, track] of Object.entries(tracks ?? {}) as [PlaceTrack, Track][]) {
    const value = valueAt(track, frame)
    if (typeof value === 'number') out = withPlacePart(out ?? UNMOVED_PLACE, name, value)
  }
  return out
}

/** Pieces as they stand at a frame; those that stay where they are are the same objects. */
export const piecesAt = (pieces: readonly Piece[], frame: number): Piece[] =>
  pieces.map((piece) => (piece.tracks ? { ...piece, place: placeAt(piece, frame) } : piece))

/** A piece as it is at a frame, at rest: its values of then, and nothing that moves but what a step is made of over time (`overTime`, by names). */
export function pieceAtRest(piece: Piece, moment: Moment, overTime: (step: RouteStep) => readonly string[] = () => []): Piece {
  const { tracks: _, tryOuts: __, ...still } = piece
  const place = placeAt(piece, moment.frame)
  return {
    ...still,
    ...(place ? { place } : {}),
    route: piece.route.map((step) => {
      const { tracks: own, ...rest } = step
      if (!own) return rest
      const stay = overTime(step)
      const [kept, gone] = [true, false].map((kept) => Object.fromEntries(Object.entries(own).filter(([name]) => stay.includes(name) === kept)))
      const { params, on } = paramsAtMoment({ ...step, tracks: gone }, moment)
      return { ...rest, params: { ...params }, on, ...(Object.keys(kept).length > 0 ? { tracks: kept } : {}) }
    }),
  }
}

/** A record with one value anew; a copy, as far down as it changes. */
function withValue(record: Readonly<Record<string, unknown>>, [name, ...rest]: readonly string[], value: unknown): Record<string, unknown> {
  if (rest.length === 0) return { ...record, [name]: value }
  const inner = record[name]
  return {
    ...record,
    [name]: withValue(typeof inner === 'object' && inner !== null && !Array.isArray(inner) ? (inner as Record<string, unknown>) : {}, rest, value),
  }
}
