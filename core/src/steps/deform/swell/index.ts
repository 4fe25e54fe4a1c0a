import { plain } from '../../meta'
import { defineStep } from '../../step'
import { swellParams } from './schema'

export const swell = defineStep(
  {
    kind: 'swell',
    version: 2,
    family: 'Deform',
    title: 'Swell',
    summary: 'Moves the surface out along its normals as far as a mask or a picture says: cushions, puffs, dents.',
    takes: ['solid'],
    gives: 'solid',
    params: swellParams,
    roughly: true,
    describe: ({ by, how, mask }) =>
      `${plain(Math.abs(by))} mm ${by < 0 ? 'in' : 'out'}${how === 'picture' ? ', by a picture' : ''}${mask.list.length > 0 ? ', by a mask' : ''}`,
  },
  () => import('./make'),
)
