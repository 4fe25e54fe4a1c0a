import { plain } from '../../meta'
import { defineStep } from '../../step'
import { growParams } from './schema'

const WORDS = { grow: 'Grown by', shrink: 'Shrunk by', close: 'Gaps closed up to twice', open: 'Opened by' } as const

export const grow = defineStep(
  {
    kind: 'grow',
    version: 2,
    family: 'Volume',
    title: 'Grow or shrink',
    summary: 'Moves the whole surface out or in, closes gaps, or takes away what is thin.',
    takes: ['solid'],
    gives: 'solid',
    params: growParams,
    roughly: true,
    describe: ({ how, by }) => `${WORDS[how]} ${plain(by)} mm`,
  },
  () => import('./make'),
)
