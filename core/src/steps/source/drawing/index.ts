import { defineStep } from '../../step'
import { drawingParams } from './schema'

export const drawing = defineStep(
  {
    kind: 'drawing',
    version: 1,
    family: 'Source',
    title: 'Drawing',
    summary: 'Draws outlines and strokes by hand with pen and pencil, over a picture if you like.',
    takes: [],
    gives: 'outline',
    params: drawingParams,

    describe({ shapes }) {
      const areas = shapes.filter((s) => s.closed || s.width > 0).length
      const lines = shapes.length - areas
      const words = [areas > 0 && `${areas} ${areas === 1 ? 'shape' : 'shapes'}`, lines > 0 && `${lines} open ${lines === 1 ? 'line' : 'lines'}`].filter(
        Boolean,
      )
      return words.length > 0 ? `${words.join(', ')} drawn` : 'Nothing drawn yet'
    },
  },
  () => import('./make'),
)
