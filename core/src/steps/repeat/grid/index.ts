import { plain } from '../../meta'
import { defineStep } from '../../step'
import { gridParams } from './schema'

export const grid = defineStep(
  {
    kind: 'grid',
    version: 1,
    family: 'Repeat',
    title: 'Grid',
    summary: 'Copies in columns, rows and layers with equal gaps: straight, as bricks, or staggered.',
    takes: ['solid', 'assembly'],
    gives: 'assembly',
    params: gridParams,
    describe: ({ across, down, deep, gap, rows }) =>
      `${across} × ${down}${deep > 1 ? ` × ${deep}` : ''}, ${plain(gap)} mm apart${rows === 'straight' ? '' : rows === 'bricks' ? ', as bricks' : ', staggered'}`,
  },
  () => import('./make'),
)
