import { plain } from '../../meta'
import { defineStep } from '../../step'
import { runAlongParams } from './schema'

export const runAlong = defineStep(
  {
    kind: 'run-along',
    version: 4,
    family: 'Deform',
    title: 'Run along',
    summary: 'Bends the piece along a drawn line, flat or rising in space, fitted to it or repeated.',
    takes: ['solid'],
    gives: 'solid',
    params: runAlongParams,
    describe: ({ fit, offset }) =>
      `${{ fitted: 'Fitted to the line', kept: 'As long as it is', repeated: 'Repeated along the line' }[fit]}${offset === 0 ? '' : `, ${plain(offset)} mm off it`}`,
  },
  () => import('./make'),
)
