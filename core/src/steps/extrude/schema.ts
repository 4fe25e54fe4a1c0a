import { z } from 'zod'
import { nodePath } from '../../outline/nodes'
import { PROFILE_NAMES } from '../../solid/profile'
import { CORNER_STYLES } from '../../solid/skeleton'
import { meta } from '../meta'

export const millimetres = (what: string, min: number, max: number) =>
  z.number(`${what} must be a number.`).min(min, `${what} must be at least ${min} mm.`).max(max, `${what} can be at most ${max} mm.`)

export const edgeParams = z.object({
  profile: z.enum([...PROFILE_NAMES, 'points', 'drawn']).default('chamfer'),
  inset: millimetres('The inset', 0, 500)
    .default(1.5)
    .meta(meta({ title: 'Inset', unit: 'mm' })),
  height: millimetres('The height', 0, 500)
    .default(1.5)
    .meta(meta({ title: 'Height', unit: 'mm' })),
  /** [inset mm, height mm], for the profile "points"; scaled so that the last inset is `inset` and the last height `height` */
  points: z
    .array(z.tuple([z.number(), z.number()]))
    .max(200)
    .optional(),
  /** an open curve in mm of inset (x) and height (y), for the profile "drawn"; scaled as points are */
  drawn: nodePath.optional(),
  /** what a drawn profile is called */
  name: z.string().max(60).optional(),
  /** the edge stops where a face this wide is left in every letter, mm; 0 lets it close in ridges */
  flat: millimetres('The flat', 0, 500)
    .optional()
    .meta(meta({ title: 'Flat left', unit: 'mm' })),
})

export type EdgeParams = z.infer<typeof edgeParams>

export const bandParams = z.object({
  name: z.string().min(1, 'A band needs a name.').max(40),
  from: millimetres('The start of a band', 0, 500),
  to: millimetres('The end of a band', 0, 500),
})

/** Curves within so many millimetres: how all forms are divided. */
export const curvesWithin = millimetres('The tolerance', 0.002, 5)
  .default(0.02)
  .meta(meta({ title: 'Curves within', unit: 'mm', step: 0.01, advanced: true, description: 'Largest distance between a curve and its facets.' }))

export const extrudeParams = z.object({
  depth: millimetres('The depth', 0.1, 2000)
    .default(12)
    .meta(meta({ title: 'Depth', unit: 'mm', step: 0.5, pull: 'forward', description: 'From back to face, edges included.' })),
  front: edgeParams.default({ profile: 'chamfer', inset: 1.5, height: 1.5 }).meta(meta({ title: 'Front edge', control: 'edge', pull: 'edge' })),
  back: edgeParams.default({ profile: 'square', inset: 1, height: 1 }).meta(meta({ title: 'Back edge', control: 'edge' })),
  bands: z
    .array(bandParams)
    .max(6, 'An edge takes six bands at most.')
    .default([])
    .meta(meta({ title: 'Bands of the front edge', control: 'bands' })),
  outset: millimetres('The outset', 0, 200)
    .default(0)
    .meta(meta({ title: 'Outset', unit: 'mm', step: 0.1, pull: 'right', description: 'How far the letters grow before the edges are taken off them.' })),
  corners: z
    .enum(CORNER_STYLES)
    .default('mitre')
    .meta(meta({ title: 'Inner corners', labels: ['Mitred', 'Round', 'Flat'], advanced: true })),
  division: z
    .enum(['none', 'triangles', 'squares'])
    .default('none')
    .meta(
      meta({ title: 'Divide faces', labels: ['As needed', 'Evenly', 'In squares'], advanced: true, description: 'For bending and other deforming later.' }),
    ),
  divisionEdge: millimetres('The division', 0.2, 100)
    .default(2)
    .meta(meta({ title: 'Division', unit: 'mm', step: 0.5, advanced: true, when: { field: 'division', is: ['triangles', 'squares'] } })),
  tolerance: curvesWithin,
})

export type ExtrudeParams = z.infer<typeof extrudeParams>
