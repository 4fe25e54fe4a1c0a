import { plain } from '../../meta'
import { defineStep } from '../../step'
import { offsetParams } from './schema'

export const offset = defineStep(
  {
    kind: 'offset',
    version: 2,
    family: 'Outline',
    title: 'Offset',
    summary: 'Grows or shrinks the outline by a distance.',
    takes: ['outline'],
    gives: 'outline',
    params: offsetParams,
    describe: ({ distance, join }) => `${plain(Math.abs(distance))} mm ${distance < 0 ? 'inwards' : 'outwards'}, ${join} corners`,
  },
  () => import('./make'),
)
