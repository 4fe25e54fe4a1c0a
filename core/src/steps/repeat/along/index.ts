import { plain } from '../../meta'
import { unitsNamed } from '../../shared/repeat-fields'
import { defineStep } from '../../step'
import { alongParams } from './schema'

export const along = defineStep(
  {
    kind: 'along',
    version: 3,
    family: 'Repeat',
    title: 'Along a line',
    summary: 'Sets beads, rivets or any piece along outlines or drawn lines, evenly fitted, with one in every corner.',
    takes: ['outline', 'solid', 'assembly'],
    gives: 'assembly',
    params: alongParams,
    describe: ({ pitch, unit, width, size, inset, along }) =>
      `${unitsNamed(unit)} ${unit === 'piece' ? `at ${plain(size)} %` : `of ${plain(width)} mm`}, every ${plain(pitch)} mm${along !== 'strokes' && inset !== 0 ? `, ${plain(Math.abs(inset))} mm ${inset > 0 ? 'inside' : 'outside'}` : ''}`,
  },
  () => import('./make'),
)
