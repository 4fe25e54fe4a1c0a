import { defineStep } from '../../step'
import { type LayerRow, layersParams } from './schema'

export const layers = defineStep(
  {
    kind: 'layers',
    version: 1,
    family: 'Outline',
    title: 'Layers',
    summary: 'Gives every layer its colour, depth, edge and lift; hides, merges and orders them.',
    takes: ['outline'],
    gives: 'outline',
    params: layersParams,

    describe({ table, order }) {
      const words: string[] = []
      const count = (test: (row: LayerRow) => boolean, what: string) => {
        const n = table.filter(test).length
        if (n > 0) words.push(`${n} ${what}`)
      }
      count((r) => r.lift !== undefined, 'lifted')
      count((r) => r.depth !== undefined, 'of another depth')
      count((r) => r.colour !== undefined, 'recoloured')
      count((r) => r.into !== undefined, 'merged')
      count((r) => r.hidden === true, 'hidden')
      if (order.length > 0) words.push('in a new order')
      return words.length > 0 ? `Layers: ${words.join(', ')}` : 'Layers as they come'
    },
  },
  () => import('./make'),
)
