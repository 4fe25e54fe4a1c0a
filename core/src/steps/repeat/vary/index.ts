import { plain } from '../../meta'
import { defineStep } from '../../step'
import { varyParams } from './schema'

export const vary = defineStep(
  {
    kind: 'vary',
    version: 1,
    family: 'Repeat',
    title: 'Vary',
    summary: 'Makes copies differ in place, turn, size and colour: by lot, in their order, by distance, by letter or by a mask.',
    takes: ['assembly'],
    gives: 'assembly',
    params: varyParams,
    describe({ by, size, turn, lean, right, up, forward, colours }) {
      const parts = [
        ...(size ? [`size ${plain(size)} %`] : []),
        ...(turn ? [`turn ${plain(turn)}°`] : []),
        ...(lean ? [`lean ${plain(lean)}°`] : []),
        ...(right || up || forward ? ['place'] : []),
        ...(colours.length > 0 ? [`${colours.length} colour${colours.length === 1 ? '' : 's'}`] : []),
      ]
      const words = { lot: 'by lot', order: 'in their order', letters: 'letter after letter', distance: 'by distance', mask: 'by a mask' } as const
      return parts.length > 0 ? `${parts.join(', ')}, ${words[by]}` : 'Nothing varies yet'
    },
  },
  () => import('./make'),
)
