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
  readonly moving: boolean
}

/** What a step's parameters are at a moment. Steps know nothing of time: this is asked before their values are parsed. */
export type ParamsAt = (step: RouteStep, moment: Moment) => ParamsAtMoment

/** Parameters as a document of this version holds them: the same at every moment. */
export const constantParams: ParamsAt = ({ params }) => ({ params, moving: false })
