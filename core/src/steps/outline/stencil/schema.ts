import { z } from 'zod'
import { meta } from '../../meta'

const bridges = z.number('The number of bridges must be a number.').int('Bridges are counted whole.').min(1, 'A counter needs one bridge at least.').max(8)

const angle = z.number('The angle must be a number.').min(-360).max(360)

export const stencilParams = z.object({
  bridges: bridges.default(2).meta(meta({ title: 'Bridges', step: 1, description: 'To each counter, evenly round it.' })),
  width: z
    .number('The width must be a number.')
    .min(0.05, 'Bridges must be 0.05 mm wide at least.')
    .max(500)
    .default(1.5)
    .meta(meta({ title: 'Width', unit: 'mm', step: 0.5, pull: 'right' })),
  angle: angle.default(90).meta(meta({ title: 'Angle', unit: '°', step: 15, description: 'Of the first bridge: 90° is upwards, 0° to the right.' })),
  otherwise: z
    .string()
    .max(200)
    .default('')
    .meta(meta({ title: 'Otherwise for', description: 'Letters whose bridges are set apart, such as “ae&”.' })),
  otherBridges: bridges.default(1).meta(meta({ title: 'Their bridges', step: 1, advanced: true })),
  otherAngle: angle.default(0).meta(meta({ title: 'Their angle', unit: '°', step: 15, advanced: true })),
})
