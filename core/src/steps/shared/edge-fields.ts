import { z } from 'zod'
import { nodePath } from '../../outline/node-path'
import { PROFILE_NAMES } from '../../solid/profile-names'
import { meta } from '../meta'
import { millimetres } from './lengths'

/** How an edge is shaped: what Extrude, Tube and others share. */
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
