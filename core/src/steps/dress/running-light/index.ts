import { plain } from '../../meta'
import { defineStep } from '../../step'
import { runningLightParams } from './schema'

const WAYS = { across: 'from left to right', up: 'upwards', text: 'as one reads', middle: 'from the middle out' } as const

export const runningLight = defineStep(
  {
    kind: 'running-light',
    version: 1,
    family: 'Dress',
    title: 'Running light',
    summary: 'A light runs over letters, words or copies: each brightens as it comes and fades when it has passed. Key where it is.',
    takes: ['solid', 'assembly'],
    gives: 'assembly',
    params: runningLightParams,
    describe: ({ at, order, turned }) => `Light ${WAYS[order]}${turned ? ', the other way round' : ''}, ${plain(at)} % of its way`,
  },
  () => import('./make'),
)
