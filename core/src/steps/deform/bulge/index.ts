import { plain } from '../../meta'
import { defineStep } from '../../step'
import { bulgeParams, type SHAPES } from './schema'

const WORDS: Record<(typeof SHAPES)[number], string> = {
  ball: 'as a ball',
  upright: 'as an upright cylinder',
  level: 'as a lying cylinder',
  face: 'within the face',
}

export const bulge = defineStep(
  {
    kind: 'bulge',
    version: 3,
    family: 'Deform',
    title: 'Bulge',
    summary: 'Swells the piece about a point or a line, or pinches it there.',
    takes: ['solid'],
    gives: 'solid',
    params: bulgeParams,
    describe: ({ amount, shape }) => `${plain(amount)} %, ${WORDS[shape]}`,
  },
  () => import('./make'),
)
