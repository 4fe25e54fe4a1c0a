import { plain } from '../../meta'
import { defineStep } from '../../step'
import { reduceParams } from './schema'

export const reduce = defineStep(
  {
    kind: 'reduce',
    version: 2,
    family: 'Volume',
    title: 'Reduce',
    summary: 'Fewer triangles where the surface is flat enough, colours and borders kept.',
    takes: ['solid'],
    gives: 'solid',
    params: reduceParams,
    describe: ({ to, error, triangles }) => (to === 'error' ? `Within ${plain(error)} mm` : `To ${triangles.toLocaleString('en')} triangles`),
  },
  () => import('./make'),
)
