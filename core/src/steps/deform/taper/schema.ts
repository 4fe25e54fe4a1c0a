import { z } from 'zod'
import { AXES } from '../../../deform/space-map'
import { meta } from '../../meta'
import { extentFields } from '../../shared/axes'
import { curvePoints } from '../../shared/curve-along'
import { deformFields } from '../../shared/deform-fields'

const sized = (title: string, on: boolean) => z.boolean().default(on).meta(meta({ title }))

export const taperParams = z.object({
  amount: z
    .number('The amount must be a number.')
    .min(-400, 'It grows to five times its size at most.')
    .max(99, 'At most 99 % is taken away: something must be left.')
    .default(40)
    .meta(
      meta({
        title: 'Amount',
        unit: '%',
        step: 5,
        tried: true,
        most: 99,
        strengths: [15, 30, 50, 70, 90],
        description: 'How much smaller one end becomes; below nought it grows.',
      }),
    ),
  axis: z
    .enum(AXES)
    .default('along')
    .meta(meta({ title: 'Goes', labels: ['Along the length', 'Upwards', 'Forwards'] })),
  end: z
    .enum(['far', 'near', 'both'])
    .default('far')
    .meta(meta({ title: 'Smaller', labels: ['At the far end', 'At the near end', 'At both ends'] })),
  about: z
    .enum(['middle', 'foot'])
    .default('middle')
    .meta(meta({ title: 'Towards', labels: ['The middle', 'The foot and the back'] })),
  width: sized('Width becomes smaller', true),
  height: sized('Height becomes smaller', true),
  depth: sized('Depth becomes smaller', false),
  curve: curvePoints('The taper', 0, 100)
    .default([
      [0, 0],
      [1, 100],
    ])
    .meta(meta({ title: 'Taper', unit: '%', step: 5, holds: 'curve along', most: 100, advanced: true })),
  ...extentFields,
  ...deformFields,
})
