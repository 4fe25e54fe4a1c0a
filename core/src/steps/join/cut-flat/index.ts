import { plain } from '../../meta'
import { defineStep } from '../../step'
import { cutFlatParams } from './schema'

export const cutFlat = defineStep(
  {
    kind: 'cut-flat',
    version: 1,
    family: 'Join',
    title: 'Cut flat',
    summary: 'Cuts the piece along a plane and keeps one side or both: for what is larger than a bed, or needs a flat back.',
    takes: ['solid'],
    gives: 'solid',
    params: cutFlatParams,
    describe: ({ axis, at, keep, gap, tilt, lean, pegs }) =>
      [
        `${{ across: 'Left from right', up: 'Top from foot', forward: 'Front from back' }[axis]}${at === 0 ? ' in the middle' : `, ${plain(at)} mm off the middle`}`,
        tilt === 0 && lean === 0 ? '' : `turned by ${[tilt, lean].filter(Boolean).map(plain).join('° and ')}°`,
        keep === 'both' ? `parted by ${plain(gap)} mm` : '',
        keep === 'both' && pegs > 0 ? `${pegs} ${pegs === 1 ? 'peg' : 'pegs'}` : '',
      ]
        .filter(Boolean)
        .join(', '),
  },
  () => import('./make'),
)
