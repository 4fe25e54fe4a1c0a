import { defineStep } from '../../step'
import { redrawParams } from './schema'

export const redraw = defineStep(
  {
    kind: 'redraw',
    version: 2,
    family: 'Outline',
    title: 'Redraw',
    summary: 'Changes the outlines of single letters or shapes by hand; the words stay words.',
    takes: ['outline'],
    gives: 'outline',
    params: redrawParams,

    describe({ edits: { list } }) {
      const letters = list.map((e) => e.text).filter(Boolean)
      if (list.length === 0) return 'Nothing redrawn yet'
      return letters.length > 0 ? `Redrawn by hand: ${letters.slice(0, 12).join(' ')}${letters.length > 12 ? ' …' : ''}` : `${list.length} redrawn by hand`
    },
  },
  () => import('./make'),
)
