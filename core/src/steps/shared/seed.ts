import { z } from 'zod'
import { type FieldMeta, meta } from '../meta'

/** The number that lots are drawn by: the same number, the same lots. */
export const seedParam = (more: Pick<FieldMeta, 'when' | 'description'> = {}) =>
  z
    .int('The seed must be a whole number.')
    .min(0)
    .max(1e9)
    .default(1)
    .meta(meta({ title: 'Seed', step: 1, ...more }))
