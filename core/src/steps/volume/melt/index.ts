import { plain } from '../../meta'
import { defineStep } from '../../step'
import { meltParams } from './schema'

export const melt = defineStep(
  {
    kind: 'melt',
    version: 1,
    family: 'Volume',
    title: 'Melt together',
    summary: 'Letters that are near each other flow into one body, like dough or jelly; or other pieces are cut out with soft edges.',
    takes: ['solid'],
    gives: 'solid',
    params: meltParams,
    roughly: true,
    describe: ({ how, others, radius, between }) =>
      how === 'together'
        ? `${between === 'letters' ? 'Letters' : between === 'layers' ? 'Layers' : 'Loose parts'}, ${plain(radius)} mm`
        : `${others.length === 1 ? 'One piece' : `${others.length} pieces`} ${how === 'out' ? 'out of it' : 'overlapped'}, ${plain(radius)} mm`,
  },
  () => import('./make'),
)
