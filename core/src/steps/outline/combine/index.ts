import { plain } from '../../meta'
import { defineStep } from '../../step'
import { combineParams } from './schema'

const WORDS = { union: 'United', 'cut-out': 'Cut out', overlap: 'Overlap', exclude: 'Without what overlaps' } as const

export const combine = defineStep(
  {
    kind: 'combine',
    version: 1,
    family: 'Outline',
    title: 'Combine',
    summary: 'Unites outlines, cuts one out of another, keeps or leaves what overlaps.',
    takes: ['outline'],
    gives: 'outline',
    params: combineParams,
    describe: ({ how, with: w, x, y }) =>
      `${WORDS[how]}, ${w === 'piece' ? `with another piece${x !== 0 || y !== 0 ? ` moved by ${plain(x)}, ${plain(y)} mm` : ''}` : 'its own layers'}`,
  },
  () => import('./make'),
)
