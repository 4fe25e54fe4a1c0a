import { plain } from '../../meta'
import { defineStep } from '../../step'
import { simplifyParams } from './schema'

export const simplify = defineStep(
  {
    kind: 'simplify',
    version: 2,
    family: 'Outline',
    title: 'Simplify',
    summary: 'Redraws the outline with as few nodes as a tolerance allows.',
    takes: ['outline'],
    gives: 'outline',
    params: simplifyParams,
    describe: ({ tolerance }) => `Few nodes, within ${plain(tolerance)} mm`,
  },
  () => import('./make'),
)
