import { plain } from '../../meta'
import { defineStep } from '../../step'
import { inTurnParams, WORDS } from './schema'

export const inTurn = defineStep(
  {
    kind: 'in-turn',
    version: 1,
    family: 'Repeat',
    title: 'In turn',
    summary: 'Brings letters, words, lines, copies or parts to their places one after another: key how far it is done.',
    takes: ['solid', 'assembly'],
    gives: 'assembly',
    params: inTurnParams,
    describe({ by, done, order, turned }) {
      const orders = {
        text: turned ? 'from the last' : 'from the first',
        middle: 'from the middle',
        lot: 'by lot',
        distance: 'from a spot',
        mask: 'by a mask',
      } as const
      return `${WORDS[by]} after ${WORDS[by]} ${orders[order]}, ${plain(done)} % done`
    },
  },
  () => import('./make'),
)
