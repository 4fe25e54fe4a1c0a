import { z } from 'zod'
import { meta } from '../../meta'
import { leaveParam, partnersParam } from '../../shared/join-fields'

/** The depth that is offered where a cutter does not reach the body, mm. */
export const OFFERED_DEPTH = 2

export const carveParams = z.object({
  others: partnersParam,
  stand: z
    .enum(['placed', 'depth', 'through'])
    .default('placed')
    .meta(meta({ title: 'How deep', labels: ['As they stand', 'To a depth', 'Right through'], description: 'Measured from the face under what is cut in.' })),
  depth: z
    .number('The depth must be a number.')
    .min(0.01, 'The depth must be at least 0.01 mm.')
    .max(5000)
    .default(OFFERED_DEPTH)
    .meta(meta({ title: 'Depth', unit: 'mm', step: 0.5, pull: 'forward', pullBy: -1, when: { field: 'stand', is: ['depth'] } })),
  leave: leaveParam,
})
