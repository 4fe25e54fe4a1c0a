import { valueAt } from '../motion/track'
import type { RouteStep } from './schema'

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

/** A record with one value anew; a copy, as far down as it changes. */
function withValue(record: Readonly<Record<string, unknown>>, [name, ...rest]: readonly string[], value: unknown): Record<string, unknown> {
  if (rest.length === 0) return { ...record, [name]: value }
  const inner = record[name]
  return {
    ...record,
    [name]: withValue(typeof inner === 'object' && inner !== null && !Array.isArray(inner) ? (inner as Record<string, unknown>) : {}, rest, value),
  }
}
