import { z } from 'zod'
import { meta } from '../../meta'
import { millimetres } from '../../shared/lengths'

export const reduceParams = z.object({
  to: z
    .enum(['error', 'count'])
    .default('error')
    .meta(meta({ title: 'Down to', labels: ['An error', 'A number'] })),
  error: millimetres('The error', 0.001, 100)
    .default(0.05)
    .meta(meta({ title: 'Within', unit: 'mm', step: 0.01, when: { field: 'to', is: ['error'] }, description: 'How far the surface may move.' })),
  triangles: z
    .number('The number of triangles must be a number.')
    .int('Triangles are counted whole.')
    .min(4, 'A solid has at least 4 triangles.')
    .max(2_000_000)
    .default(5000)
    .meta(meta({ title: 'Triangles', step: 500, when: { field: 'to', is: ['count'] } })),
})
