import { z } from 'zod'
import type { PROFILE_NAMES } from '../../../solid/profile-names'
import { meta } from '../../meta'
import { curvesWithin, millimetres } from '../../shared/lengths'

export const RIMS = ['square', 'chamfer', 'round', 'cove', 'ogee', 'bead'] as const satisfies readonly (typeof PROFILE_NAMES)[number][]

export const channelParams = z.object({
  depth: millimetres('The depth', 0.5, 2000)
    .default(25)
    .meta(meta({ title: 'Depth', unit: 'mm', step: 1, pull: 'forward', description: 'From the back to the rim.' })),
  wall: millimetres('The wall', 0.1, 100)
    .default(2)
    .meta(meta({ title: 'Wall', unit: 'mm', step: 0.25 })),
  floor: millimetres('The floor', 0.1, 500)
    .default(2)
    .meta(meta({ title: 'Floor', unit: 'mm', step: 0.25 })),
  rim: z
    .enum(RIMS)
    .default('square')
    .meta(
      meta({
        title: 'Return',
        labels: ['Upright', 'Chamfered', 'Rounded', 'Hollow', 'Ogee', 'Bead'],
        description: 'The profile of the outer side, towards the rim.',
      }),
    ),
  rimSize: millimetres('The rim', 0.05, 50)
    .default(0.6)
    .meta(meta({ title: 'Inset at the rim', unit: 'mm', step: 0.1, when: { field: 'rim', is: RIMS.slice(1) } })),
  rimHeight: millimetres('The profile', 0.05, 2000)
    .default(0.6)
    .meta(meta({ title: 'Over a height of', unit: 'mm', step: 0.5, when: { field: 'rim', is: RIMS.slice(1) } })),
  panel: z
    .boolean()
    .default(true)
    .meta(meta({ title: 'Acrylic face' })),
  thickness: millimetres('The panel', 0.1, 100)
    .default(3)
    .meta(meta({ title: 'Acrylic', unit: 'mm', step: 0.5, when: { field: 'panel', is: ['true'] } })),
  clearance: millimetres('The clearance', 0.02, 10)
    .default(0.3)
    .meta(meta({ title: 'Clearance', unit: 'mm', step: 0.05, description: 'Play between acrylic and walls.', when: { field: 'panel', is: ['true'] } })),
  ledge: millimetres('The ledge', 0.1, 50)
    .default(1)
    .meta(
      meta({ title: 'Ledge', unit: 'mm', step: 0.25, description: 'What the acrylic rests on; taken from the wall.', when: { field: 'panel', is: ['true'] } }),
    ),
  mounting: z
    .number('The number of holes must be a number.')
    .int()
    .min(0)
    .max(8, 'A letter takes eight mounting holes at most.')
    .default(2)
    .meta(meta({ title: 'Mounting holes', step: 1, description: 'In every letter, where there is room.' })),
  mountingDiameter: millimetres('The hole', 0.5, 50)
    .default(3.2)
    .meta(meta({ title: 'Hole across', unit: 'mm', step: 0.1 })),
  cable: millimetres('The cable hole', 0, 100)
    .default(0)
    .meta(meta({ title: 'Cable hole', unit: 'mm', step: 0.5, description: 'Across; 0 for none.' })),
  tolerance: curvesWithin,
})
