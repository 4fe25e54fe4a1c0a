import { plain } from '../../meta'
import { defineStep } from '../../step'
import { pieceOutlineParams } from './schema'

/** The outline of another piece, for a form of its own: it changes with that piece. */
export const pieceOutline = defineStep(
  {
    kind: 'piece-outline',
    version: 1,
    family: 'Source',
    title: 'From a piece',
    summary: 'What another piece is drawn with, whole or some colours of it, to be given another form here.',
    takes: [],
    gives: 'outline',
    params: pieceOutlineParams,
    describe: ({ layers, visible, gap }) =>
      `${layers.length === 0 ? 'All of another piece’s outline' : `${layers.length} of another piece’s layers`}${visible && gap > 0 ? `, ${plain(gap)} mm from what lies over it` : ''}`,
  },
  () => import('./make'),
)
