import { plain } from '../../meta'
import { defineStep } from '../../step'
import { stencilParams } from './schema'

export const stencil = defineStep(
  {
    kind: 'stencil',
    version: 1,
    family: 'Outline',
    title: 'Stencil',
    summary: 'Cuts bridges through the letters that hold their counters, so that nothing falls out of a stencil.',
    takes: ['outline'],
    gives: 'outline',
    params: stencilParams,
    describe: ({ bridges: count, width, angle: at }) => `${count === 1 ? 'One bridge' : `${count} bridges`} of ${plain(width)} mm at ${plain(at)}°`,
  },
  () => import('./make'),
)
