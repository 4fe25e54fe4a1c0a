import { defineStep } from '../../step'
import { centreLinesParams } from './schema'

export const centreLines = defineStep(
  {
    kind: 'centre-lines',
    version: 2,
    family: 'Outline',
    title: 'Centre lines',
    summary: 'Finds the strokes that letters are written with: one line along the middle of each, for tubes, brushes and rows.',
    takes: ['outline'],
    gives: 'outline',
    params: centreLinesParams,
    describe: ({ keep, shortest }) =>
      [`Strokes along the middle${keep === 'both' ? ', areas kept' : ''}`, ...(shortest > 0 ? [`from ${shortest} mm`] : [])].join(' · '),
  },
  () => import('./make'),
)
