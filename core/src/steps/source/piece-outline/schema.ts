import { z } from 'zod'
import { pieceReference } from '../../../document/piece-reference'
import { meta } from '../../meta'

export const pieceOutlineParams = z.object({
  of: pieceReference
    .default({ piece: '' })
    .meta(meta({ title: 'Piece', input: ['outline'], placed: true, description: 'As large as it stands in the project.' })),
  layers: z
    .array(z.string().max(200))
    .max(500)
    .default([])
    .meta(meta({ title: 'Layers', holds: 'layers taken' })),
  visible: z
    .boolean()
    .default(true)
    .meta(meta({ title: 'Visible only', description: 'Without what lies under other layers.' })),
  gap: z
    .number('The gap must be a number.')
    .min(0)
    .max(50)
    .default(0)
    .meta(meta({ title: 'Gap', unit: 'mm', step: 0.05, description: 'To the layers that lie over it.', when: { field: 'visible', is: ['true'] } })),
})
