import { plain } from '../../meta'
import { defineStep } from '../../step'
import { burstParams, WORDS } from './schema'

export const burstStep = defineStep(
  {
    kind: 'burst',
    version: 1,
    family: 'Break',
    title: 'Burst',
    summary: 'Flies shards, letters or copies apart, or draws them together: key the strength.',
    takes: ['solid', 'assembly'],
    gives: 'assembly',
    params: burstParams,
    describe: ({ strength, by, from }) =>
      `${WORDS[by][0].toUpperCase()}${WORDS[by].slice(1)} ${strength < 0 ? 'together' : 'apart'}, ${plain(Math.abs(strength))} %${from === 'lot' ? ', every which way' : ''}`,
  },
  () => import('./make'),
)
