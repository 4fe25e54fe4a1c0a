import { z } from 'zod'
import { CORNER_STYLES } from '../../../solid/corner-styles'
import { meta } from '../../meta'
import { edgeParams } from '../../shared/edge-fields'
import { curvesWithin, millimetres } from '../../shared/lengths'

const bandParams = z.object({
  name: z.string().min(1, 'A band needs a name.').max(40),
  from: millimetres('The start of a band', 0, 500),
  to: millimetres('The end of a band', 0, 500),
})

export const extrudeParams = z.object({
  depth: millimetres('The depth', 0.1, 2000)
    .default(12)
    .meta(meta({ title: 'Depth', unit: 'mm', step: 0.5, pull: 'forward', description: 'From back to face, edges included.' })),
  front: edgeParams.default({ profile: 'chamfer', inset: 1.5, height: 1.5 }).meta(meta({ title: 'Front edge', holds: 'edge profile', pull: 'edge' })),
  back: edgeParams.default({ profile: 'square', inset: 1, height: 1 }).meta(meta({ title: 'Back edge', holds: 'edge profile' })),
  bands: z
    .array(bandParams)
    .max(6, 'An edge takes six bands at most.')
    .default([])
    .meta(meta({ title: 'Bands of the front edge', holds: 'edge bands' })),
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

/** raised when the same values give another solid */
export const VERSION = 3
