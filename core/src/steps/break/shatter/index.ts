import type { z } from 'zod'
import { defineStep } from '../../step'
import { AT_SPOT, shatterParams } from './schema'

type Params = z.infer<typeof shatterParams>

const NAMES: Record<Params['pattern'], string> = {
  even: 'even',
  cluster: 'about a spot',
  line: 'along a line',
  impact: 'by a blow',
  grain: 'along a grain',
  glass: 'like glass',
  bricks: 'like bricks',
  letter: 'by letter',
}

export const shatter = defineStep(
  {
    kind: 'shatter',
    version: 3,
    family: 'Break',
    title: 'Shatter',
    summary: 'Breaks a solid to pieces that fit each other exactly; what broke is a surface of its own.',
    takes: ['solid'],
    gives: 'assembly',
    params: shatterParams,
    describe: ({ pattern, pieces, count }) =>
      pattern === 'letter' ? 'letter by letter' : `${pieces} pieces${count === 'letter' && !AT_SPOT.includes(pattern) ? ' a letter' : ''}, ${NAMES[pattern]}`,
  },
  () => import('./make'),
)
