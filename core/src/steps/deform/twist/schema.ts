import { z } from 'zod'
import { AXES } from '../../../deform/space-map'
import { meta } from '../../meta'
import { extentFields } from '../../shared/axes'
import { deformFields } from '../../shared/deform-fields'

export const twistParams = z.object({
  angle: z
    .number('The angle must be a number.')
    .min(-3600, 'The angle is at least −3,600°.')
    .max(3600, 'The angle is at most 3,600°.')
    .default(90)
    .meta(meta({ title: 'Angle', unit: '°', step: 5, pull: 'right', pullBy: 2, strengths: [15, 45, 90, 180, 360], description: 'From one end to the other.' })),
  axis: z
    .enum(AXES)
    .default('along')
    .meta(meta({ title: 'About', labels: ['The length', 'The upright', 'The depth'] })),
  held: z
    .enum(['start', 'middle', 'end'])
    .default('middle')
    .meta(meta({ title: 'Held at', labels: ['Start', 'Middle', 'End'] })),
  ...extentFields,
  ...deformFields,
})
