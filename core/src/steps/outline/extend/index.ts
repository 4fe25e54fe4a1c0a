import { defineStep } from '../../step'
import { extendParams } from './schema'

export const extend = defineStep(
  {
    kind: 'extend',
    version: 1,
    family: 'Outline',
    title: 'Extend',
    summary: 'Draws limbs from one outline to another: swashes and ties that are one with the letters.',
    takes: ['outline'],
    gives: 'outline',
    params: extendParams,
    describe: ({ limbs: { list } }) => (list.length === 0 ? 'No limb drawn yet' : `${list.length} ${list.length === 1 ? 'limb' : 'limbs'} drawn`),
  },
  () => import('./make'),
)
