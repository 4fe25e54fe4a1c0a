import { plain } from '../../meta'
import { defineStep } from '../../step'
import { roughenParams } from './schema'

export const roughen = defineStep(
  {
    kind: 'roughen',
    version: 2,
    family: 'Deform',
    title: 'Roughen',
    summary: 'Weathers the surface with noise of one or more sizes.',
    takes: ['solid'],
    gives: 'solid',
    params: roughenParams,
    roughly: true,
    describe: ({ height, scale }) => `${plain(height)} mm in spots of ${plain(scale)} mm`,
  },
  () => import('./make'),
)
