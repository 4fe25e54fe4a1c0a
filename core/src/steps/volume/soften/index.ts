import { plain } from '../../meta'
import { defineStep } from '../../step'
import { softenParams } from './schema'

export const soften = defineStep(
  {
    kind: 'soften',
    version: 2,
    family: 'Volume',
    title: 'Soften',
    summary: 'Rounds every edge and corner as if the letters had melted a little.',
    takes: ['solid'],
    gives: 'solid',
    params: softenParams,
    roughly: true,
    describe: ({ amount, keepVolume }) => `By ${plain(amount)} mm${keepVolume ? ', volume kept' : ''}`,
  },
  () => import('./make'),
)
