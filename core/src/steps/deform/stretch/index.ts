import { plain } from '../../meta'
import { defineStep } from '../../step'
import { stretchParams } from './schema'

export const stretch = defineStep(
  {
    kind: 'stretch',
    version: 3,
    family: 'Deform',
    title: 'Stretch',
    summary: 'Draws the piece out or presses it together, with its volume kept on request.',
    takes: ['solid'],
    gives: 'solid',
    params: stretchParams,
    describe: ({ amount, axis, keepVolume }) =>
      `${plain(amount)} % along the ${{ along: 'length', up: 'height', forward: 'depth' }[axis]}${keepVolume ? ', volume kept' : ''}`,
  },
  () => import('./make'),
)
