import { plain } from '../../meta'
import { defineStep } from '../../step'
import { twistParams } from './schema'

export const twist = defineStep(
  {
    kind: 'twist',
    version: 3,
    family: 'Deform',
    title: 'Twist',
    summary: 'Turns the piece about an axis, more and more from one end to the other.',
    takes: ['solid'],
    gives: 'solid',
    params: twistParams,
    describe: ({ angle, axis }) => `${plain(angle)}° about the ${{ along: 'length', up: 'upright', forward: 'depth' }[axis]}`,
  },
  () => import('./make'),
)
