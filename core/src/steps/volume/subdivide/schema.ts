import { z } from 'zod'
import { meta } from '../../meta'

export const subdivideParams = z.object({
  times: z
    .number('How often must be a number.')
    .int('It is divided whole times.')
    .min(1)
    .max(4)
    .default(1)
    .meta(meta({ title: 'Times', step: 1 })),
  how: z
    .enum(['round', 'plain'])
    .default('round')
    .meta(meta({ title: 'Surface', labels: ['Rounded', 'As it is'] })),
  creases: z
    .number('The angle must be a number.')
    .min(1, 'Creases begin at 1° or more.')
    .max(180)
    .default(30)
    .meta(meta({ title: 'Creases from', unit: '°', step: 5, when: { field: 'how', is: ['round'] }, description: 'Sides that bend by more stay sharp.' })),
})
