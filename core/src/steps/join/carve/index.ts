import { plain } from '../../meta'
import { defineStep } from '../../step'
import { carveParams } from './schema'

export const carve = defineStep(
  {
    kind: 'carve',
    version: 2,
    family: 'Join',
    title: 'Carve',
    summary: 'Cuts other pieces out of this one, where they stand, to a depth, or right through; the inside takes a colour of its own.',
    takes: ['solid'],
    gives: 'solid',
    params: carveParams,
    describe: ({ others, stand, depth }) =>
      `${others.length === 1 ? 'One piece' : `${others.length} pieces`} cut out${{ placed: '', depth: `, ${plain(depth)} mm deep`, through: ', right through' }[stand]}`,
  },
  () => import('./make'),
)
