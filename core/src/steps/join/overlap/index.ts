import { defineStep } from '../../step'
import { overlapParams } from './schema'

export const overlap = defineStep(
  {
    kind: 'overlap',
    version: 2,
    family: 'Join',
    title: 'Overlap',
    summary: 'Keeps what this piece and others have in common, each where it stands.',
    takes: ['solid'],
    gives: 'solid',
    params: overlapParams,
    describe: ({ others }) => `What it has in common with ${others.length === 1 ? 'one piece' : `${others.length} pieces`}`,
  },
  () => import('./make'),
)
