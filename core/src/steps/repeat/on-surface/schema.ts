import { z } from 'zod'
import { meta } from '../../meta'
import { seedParam } from '../../shared/seed'
import { millimetres } from '../../shared/lengths'
import { maskOf } from '../../shared/mask-fields'
import { byHandParam, holeFields, powerField, unitFields } from '../../shared/repeat-fields'

export const onSurfaceParams = z.object({
  ...unitFields,
  pitch: millimetres('The spacing', 0.1, 5000)
    .default(6)
    .meta(
      meta({ title: 'Spacing', unit: 'mm', step: 0.5, pull: 'right', strengths: [4, 5, 6, 9, 14], description: 'None stands nearer than this to another.' }),
    ),
  facing: z
    .enum(['off', 'forward', 'up'])
    .default('off')
    .meta(meta({ title: 'Facing', labels: ['Off the surface', 'Forward', 'Upwards'] })),
  spin: z
    .boolean()
    .default(true)
    .meta(meta({ title: 'Turned at random', description: 'About its own axis.' })),
  seed: seedParam(),
  mask: maskOf(),
  ...holeFields,
  power: powerField,
  hand: byHandParam,
})
