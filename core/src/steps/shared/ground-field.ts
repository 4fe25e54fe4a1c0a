import { z } from 'zod'
import { meta } from '../meta'

/** Which flat places of a solid are meant. */
export const groundField = z
  .enum(['face', 'inside', 'back', 'any'])
  .default('any')
  .meta(
    meta({
      title: 'On',
      labels: ['The face', 'The floor inside', 'The back plate', 'The first of these there is'],
      description: 'Of a solid: which of its flat places that look forward.',
    }),
  )
