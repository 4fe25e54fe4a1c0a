import { z } from 'zod'
import { meta } from '../meta'

/** A length in mm between two bounds, `what` naming it in what is said of a bad one. */
export const millimetres = (what: string, min: number, max: number) =>
  z.number(`${what} must be a number.`).min(min, `${what} must be at least ${min} mm.`).max(max, `${what} can be at most ${max} mm.`)

/** Curves within so many millimetres: how all forms are divided. */
export const curvesWithin = millimetres('The tolerance', 0.002, 5)
  .default(0.02)
  .meta(meta({ title: 'Curves within', unit: 'mm', step: 0.01, advanced: true, description: 'Largest distance between a curve and its facets.' }))
