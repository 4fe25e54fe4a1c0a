import { plain } from '../../meta'
import { defineStep } from '../../step'
import { taperParams } from './schema'

export const taper = defineStep(
  {
    kind: 'taper',
    version: 3,
    family: 'Deform',
    title: 'Taper',
    summary: 'Makes the piece smaller towards one end; width, height and depth each by itself.',
    takes: ['solid'],
    gives: 'solid',
    params: taperParams,
    describe: ({ amount, axis, width, height, depth }) =>
      `${plain(amount)} % ${{ along: 'along the length', up: 'upwards', forward: 'forwards' }[axis]}: ${
        [axis !== 'along' && width && 'width', axis !== 'up' && height && 'height', axis !== 'forward' && depth && 'depth'].filter(Boolean).join(', ') ||
        'nothing sized'
      }`,
  },
  () => import('./make'),
)
