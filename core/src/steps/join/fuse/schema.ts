import { z } from 'zod'
import { meta } from '../../meta'
import { partnersParam } from '../../shared/join-fields'

export const fuseParams = z.object({
  others: partnersParam,
  stand: z
    .enum(['placed', 'face'])
    .default('placed')
    .meta(meta({ title: 'They stand', labels: ['At their places', 'On the face'] })),
  sunk: z
    .number('How deep they reach in must be a number.')
    .min(0.01, 'They must reach in by at least 0.01 mm, or nothing would hold them.')
    .max(5000)
    .default(0.5)
    .meta(meta({ title: 'Sunk in', unit: 'mm', step: 0.1, pull: 'forward', pullBy: -1, when: { field: 'stand', is: ['face'] } })),
})
