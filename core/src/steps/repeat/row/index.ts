import { plain } from '../../meta'
import { defineStep } from '../../step'
import { rowParams } from './schema'

const WAYS = { right: 'to the right', down: 'downwards', up: 'upwards', back: 'to the back', forward: 'forward' } as const

export const row = defineStep(
  {
    kind: 'row',
    version: 1,
    family: 'Repeat',
    title: 'Row',
    summary: 'Copies in a row or a flight of stairs, by equal gaps, by a distance, or over a length.',
    takes: ['solid', 'assembly'],
    gives: 'assembly',
    params: rowParams,
    describe: ({ count, way, by, gap, pitch, length }) =>
      `${count} ${WAYS[way]}, ${by === 'gap' ? `${plain(gap)} mm apart` : by === 'pitch' ? `every ${plain(pitch)} mm` : `over ${plain(length)} mm`}`,
  },
  () => import('./make'),
)
