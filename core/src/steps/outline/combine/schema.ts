import { z } from 'zod'
import { meta } from '../../meta'
import { pieceReference } from '../../../document/piece-reference'

const number = (what: string) => z.number(`${what} must be a number.`)

export const combineParams = z.object({
  how: z
    .enum(['union', 'cut-out', 'overlap', 'exclude'])
    .default('cut-out')
    .meta(meta({ title: 'Combine by', labels: ['Union', 'Cut-out', 'Overlap', 'Exclude'] })),
  with: z
    .enum(['piece', 'layers'])
    .default('piece')
    .meta(meta({ title: 'With', labels: ['Another piece', 'Own layers'] })),
  other: pieceReference.default({ piece: '' }).meta(meta({ title: 'Piece', input: ['outline'], when: { field: 'with', is: ['piece'] } })),
  x: number('The shift')
    .min(-5000)
    .max(5000)
    .default(0)
    .meta(meta({ title: 'Across', unit: 'mm', step: 1, when: { field: 'with', is: ['piece'] } })),
  y: number('The shift')
    .min(-5000)
    .max(5000)
    .default(0)
    .meta(meta({ title: 'Up', unit: 'mm', step: 1, when: { field: 'with', is: ['piece'] } })),
  centre: z
    .boolean()
    .default(true)
    .meta(meta({ title: 'Middle on middle', when: { field: 'with', is: ['piece'] } })),
})
