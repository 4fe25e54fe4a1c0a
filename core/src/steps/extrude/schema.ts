import { z } from 'zod'
import { PROFILE_NAMES } from '../../solid/profile'
import { meta } from '../meta'

const millimetres = (what: string, min: number, max: number) =>
  z.number(`${what} must be a number.`).min(min, `${what} must be at least ${min} mm.`).max(max, `${what} can be at most ${max} mm.`)

export const edgeParams = z.object({
  profile: z.enum([...PROFILE_NAMES, 'points']).default('chamfer'),
  inset: millimetres('The inset', 0, 500).default(1.5),
  height: millimetres('The height', 0, 500).default(1.5),
  /** [inset mm, height mm], for the profile "points"; scaled so that the last inset is `inset` and the last height `height` */
  points: z
    .array(z.tuple([z.number(), z.number()]))
    .max(200)
    .optional(),
})

export type EdgeParams = z.infer<typeof edgeParams>

export const extrudeParams = z.object({
  depth: millimetres('The depth', 0.1, 2000)
    .default(12)
    .meta(meta({ title: 'Depth', unit: 'mm', step: 0.5, description: 'From back to face, edges included.' })),
  front: edgeParams.default({ profile: 'chamfer', inset: 1.5, height: 1.5 }).meta(meta({ title: 'Front edge', control: 'edge' })),
  back: edgeParams.default({ profile: 'square', inset: 1, height: 1 }).meta(meta({ title: 'Back edge', control: 'edge' })),
  tolerance: millimetres('The tolerance', 0.002, 5)
    .default(0.02)
    .meta(meta({ title: 'Curves within', unit: 'mm', step: 0.01, advanced: true, description: 'Largest distance between a curve and its facets.' })),
})

export type ExtrudeParams = z.infer<typeof extrudeParams>
