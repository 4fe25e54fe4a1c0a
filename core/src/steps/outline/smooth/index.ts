import { plain } from '../../meta'
import { defineStep } from '../../step'
import { isUntouched, smoothParams } from './schema'

export const smooth = defineStep(
  {
    kind: 'smooth',
    version: 2,
    family: 'Outline',
    title: 'Smooth',
    summary: 'Smooths the outline as a whole, or where a brush goes over it.',
    takes: ['outline'],
    gives: 'outline',
    params: smoothParams,
    describe: ({ where, amount, touches }) =>
      where === 'all' ? `Smooth below ${plain(amount)} mm` : isUntouched(touches) ? 'Nothing brushed yet' : `Smooth below ${plain(amount)} mm where brushed`,
  },
  () => import('./make'),
)
