import { type Bezier, EASES } from './easing'
import { type Track, valueAt } from './track'

type Key = Track['keys'][number]
/** A key of a number. */
export type NumberKey = Key & { readonly value: number }

/** A number over all frames, as it is drawn. */
export interface Course {
  /** at evenly spaced moments from the first frame to the last, both among them */
  readonly values: readonly number[]
  /** how fast it changes between them, as shares of the fastest: one fewer */
  readonly speeds: readonly number[]
  /** what the drawing reaches from and to; some room beyond all values, keys and handles */
  readonly low: number
  readonly high: number
  /** the least and the most of its values */
  readonly least: number
  readonly most: number
}

/** Moments at which a course is looked at, at most. */
const MOMENTS = 480
/** Share of the span that is left free at either side. */
const ROOM = 0.1

/** Whether a track is one of numbers, which alone have a course. */
export const hasCourse = ({ keys }: Track): boolean => keys.every(({ value }) => typeof value === 'number')

/** The keys of a track of numbers. */
export const keysOf = ({ keys }: Track): readonly NumberKey[] => keys.filter((key): key is NumberKey => typeof key.value === 'number')

/** The course of a track of numbers over so many frames. */
export function courseOf(track: Track, frames: number): Course {
  const count = Math.max(2, Math.min(MOMENTS, 4 * (frames - 1)) + 1)
  const values = Array.from({ length: count }, (_, i) => Number(valueAt(track, ((frames - 1) * i) / (count - 1))))
  const changes = values.slice(1).map((v, i) => Math.abs(v - values[i]))
  const fastest = changes.reduce((a, b) => Math.max(a, b), 0)
  const keys = keysOf(track)
  const reached = [
    ...values,
    ...keys.map(({ value }) => value),
    ...keys.slice(1).flatMap((key, i) => [false, true].flatMap((second) => handleOf(keys[i], key, second)?.value ?? [])),
  ]
  const [lowest, highest] = extremes(reached)
  const [least, most] = extremes(values)
  const room = highest > lowest ? ROOM * (highest - lowest) : Math.max(1, Math.abs(highest) * ROOM)
  return { values, speeds: changes.map((change) => (fastest > 0 ? change / fastest : 0)), low: lowest - room, high: highest + room, least, most }
}

const extremes = (list: readonly number[]): [number, number] => [
  list.reduce((a, b) => Math.min(a, b), Infinity),
  list.reduce((a, b) => Math.max(a, b), -Infinity),
]

/** An even way, whose handles may lie anywhere on it, has them where they can be taken in hand. */
const EVEN: Bezier = [0.33, 0.33, 0.67, 0.67]

function bezierOf(ease: Key['ease']): Bezier {
  const bezier = ease === 'hold' ? EASES.even : typeof ease === 'string' ? EASES[ease] : ease
  const [x1, y1, x2, y2] = bezier
  return x1 === y1 && x2 === y2 ? EVEN : bezier
}

/** Where the handle stands by which a number leaves a key (or, `second`, reaches the next); undefined where it is held. */
export function handleOf(a: NumberKey, b: NumberKey, second: boolean): { at: number; value: number } | undefined {
  if (a.ease === 'hold') return undefined
  const [x1, y1, x2, y2] = bezierOf(a.ease)
  const [t, v] = second ? [x2, y2] : [x1, y1]
  return { at: a.at + t * (b.at - a.at), value: a.value + v * (b.value - a.value) }
}

/** The way from one key to the next with a handle put to a frame and value: times stay between the keys; a value that does not change has no height to set. */
export function easeWith(a: NumberKey, b: NumberKey, second: boolean, frame: number, value: number): Bezier {
  const [x1, y1, x2, y2] = bezierOf(a.ease)
  const t = Number(Math.min(1, Math.max(0, (frame - a.at) / (b.at - a.at))).toFixed(3))
  const way = b.value - a.value
  const v = way === 0 ? (second ? y2 : y1) : Number(Math.min(3, Math.max(-2, (value - a.value) / way)).toFixed(3))
  return second ? [x1, y1, t, v] : [t, v, x2, y2]
}

/** A value rounded to what can be told apart on a course, about a thousandth of what it spans. */
export function roundedFor({ low, high }: Pick<Course, 'low' | 'high'>, value: number): number {
  const digits = Math.min(6, Math.max(0, 3 - Math.ceil(Math.log10(high - low))))
  return Number(value.toFixed(digits)) + 0
}
