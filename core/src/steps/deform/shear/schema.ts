import { z } from 'zod'
import { meta } from '../../meta'
import { deformFields } from '../../shared/deform-fields'

export const WAYS = ['slant', 'rise', 'right', 'up', 'lean', 'swing'] as const

export const shearParams = z.object({
  angle: z
    .number('The angle must be a number.')
    .min(-85, 'The angle is at least −85°.')
    .max(85, 'The angle is at most 85°.')
    .default(15)
    .meta(meta({ title: 'Angle', unit: '°', step: 1, pull: 'right', pullBy: 1, strengths: [-20, 8, 15, 25, 40] })),
  way: z
    .enum(WAYS)
    .default('slant')
    .meta(meta({ title: 'Way', labels: ['Slanted', 'Rising', 'Front to the right', 'Front upwards', 'Top forwards', 'End forwards'] })),
  held: z
    .enum(['start', 'middle', 'end'])
    .default('start')
    .meta(meta({ title: 'Held at', labels: ['Start', 'Middle', 'End'], description: 'The foot, the near end or the back, or what lies over against it.' })),
  ...deformFields,
})
