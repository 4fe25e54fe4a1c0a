import { plain } from '../../meta'
import { defineStep } from '../../step'
import { inflateParams } from './schema'

const SIDES = { both: 'on both sides', front: 'in front', back: 'behind' } as const

export const inflate = defineStep(
  {
    kind: 'inflate',
    version: 1,
    family: 'Form',
    title: 'Inflate',
    summary: 'Letters swell like cushions or balloons, their outlines unchanged.',
    takes: ['outline'],
    gives: 'solid',
    params: inflateParams,
    describe: ({ height, sides, roundness, rim }) =>
      `Swells ${plain(height)} mm ${SIDES[sides]}, ${roundness > 0.75 ? 'domed' : roundness > 0.35 ? 'cushioned' : 'flat in the middle'}${rim > 0 ? `, ${plain(rim)} mm rim` : ''}`,
  },
  () => import('./make'),
)
