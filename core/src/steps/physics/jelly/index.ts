import { plain } from '../../meta'
import { defineStep } from '../../step'
import { jellyParams } from './schema'

export const jelly = defineStep(
  {
    kind: 'jelly',
    version: 2,
    family: 'Physics',
    title: 'Jelly',
    summary: 'Letters wobble as soft bodies, fall, sway in the wind and hang by what a mask holds; the same every time.',
    takes: ['solid', 'assembly'],
    gives: 'assembly',
    params: jellyParams,
    moves: ['at', 'power', 'wind'],
    overTime: ['power', 'wind'],
    travels: ({ follows }) => follows === 'piece',
    describe: ({ stiffness, at, air }) => `${plain(stiffness)} % stiff${air === 'wind' ? ' in the wind' : ''}, after ${plain(at)} s`,
  },
  () => import('./make'),
)
