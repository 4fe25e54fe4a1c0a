import { z } from 'zod'
import { meta } from '../../meta'
import { pieceReference } from '../../../document/piece-reference'

const SHAPES = ['rectangle', 'rounded', 'pill', 'disc', 'arch', 'shield', 'hugging'] as const

const MEASURED = ['rectangle', 'rounded', 'pill', 'disc', 'arch', 'shield']

export const plateParams = z.object({
  shape: z
    .enum(SHAPES)
    .default('rounded')
    .meta(meta({ title: 'Shape', labels: ['Rectangle', 'Rounded', 'Pill', 'Disc', 'Arch', 'Shield', 'Hugging a piece'] })),
  size: z
    .enum(['own', 'piece'])
    .default('own')
    .meta(meta({ title: 'Size', labels: ['Its own', 'From a piece'], when: { field: 'shape', is: MEASURED } })),
  other: pieceReference.default({ piece: '' }).meta(meta({ title: 'Piece', input: ['outline'], description: 'The words that the plate is for.' })),
  width: z
    .number('The width must be a number.')
    .min(1, 'A plate must be at least 1 mm wide.')
    .max(5000, 'A plate can be at most 5000 mm wide.')
    .default(160)
    .meta(meta({ title: 'Width', unit: 'mm', step: 5, pull: 'right', pullBy: 2, when: { field: 'size', is: ['own'] } })),
  height: z
    .number('The height must be a number.')
    .min(1, 'A plate must be at least 1 mm high.')
    .max(5000, 'A plate can be at most 5000 mm high.')
    .default(70)
    .meta(meta({ title: 'Height', unit: 'mm', step: 5, pull: 'up', when: { field: 'size', is: ['own'] } })),
  margin: z
    .number('The margin must be a number.')
    .min(0, 'The margin cannot be below 0 mm.')
    .max(1000)
    .default(8)
    .meta(meta({ title: 'Margin', unit: 'mm', step: 1, pull: 'up', description: 'Between the words and the rim.' })),
  radius: z
    .number('The radius must be a number.')
    .min(0)
    .max(1000)
    .default(10)
    .meta(meta({ title: 'Corners', unit: 'mm', step: 1, when: { field: 'shape', is: ['rounded'] } })),
  holes: z
    .enum(['filled', 'kept'])
    .default('filled')
    .meta(meta({ title: 'Holes', labels: ['Filled', 'Kept'], description: 'What the letters enclose.', when: { field: 'shape', is: ['hugging'] } })),
})

export type PlateParams = z.infer<typeof plateParams>
