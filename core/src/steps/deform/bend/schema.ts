import { z } from 'zod'
import { meta } from '../../meta'
import { extentFields, percentOf } from '../../shared/axes'
import { deformFields } from '../../shared/deform-fields'

export const WAYS = ['arch', 'back', 'roll'] as const

export const bendParams = z.object({
  way: z
    .enum(WAYS)
    .default('arch')
    .meta(meta({ title: 'Way', labels: ['Into an arch', 'Away to the back', 'Top to the back'] })),
  by: z
    .enum(['angle', 'radius'])
    .default('angle')
    .meta(meta({ title: 'By', labels: ['Angle', 'Radius'] })),
  angle: z
    .number('The angle must be a number.')
    .min(-720, 'The angle is at least −720°.')
    .max(720, 'The angle is at most 720°.')
    .default(60)
    .meta(
      meta({
        title: 'Angle',
        unit: '°',
        step: 5,
        pull: 'up',
        pullBy: 3,
        strengths: [30, 60, 120, 180, 300],
        description: '360° closes a ring. Below nought it bends the other way.',
        when: { field: 'by', is: ['angle'] },
      }),
    ),
  radius: z
    .number('The radius must be a number.')
    .min(-100_000)
    .max(100_000)
    .refine((radius) => Math.abs(radius) >= 0.1, 'The radius must be at least 0.1 mm either way.')
    .default(100)
    .meta(meta({ title: 'Radius', unit: 'mm', step: 5, when: { field: 'by', is: ['radius'] } })),
  centre: percentOf('The centre', -500, 600)
    .default(50)
    .meta(meta({ title: 'Centre', unit: '%', step: 5, description: 'What of the length stays where it is.' })),
  neutral: percentOf('The neutral line', -1000, 1000)
    .default(0)
    .meta(meta({ title: 'Neutral line', unit: '%', step: 10, description: 'Of the height, or depth, across the bend: there lengths stay as they are.' })),
  ...extentFields,
  ...deformFields,
})
