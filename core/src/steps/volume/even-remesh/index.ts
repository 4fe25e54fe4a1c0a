import { plain } from '../../meta'
import { defineStep } from '../../step'
import { evenParams } from './schema'

export const evenRemesh = defineStep(
  {
    kind: 'even-remesh',
    version: 6,
    family: 'Volume',
    title: 'Even remesh',
    summary: 'Triangles of one size all over, on the very same surface: what later bends and waves need.',
    takes: ['solid'],
    gives: 'solid',
    params: evenParams,
    roughly: true,
    describe: ({ edge, fit, least, creases }) => `Sides of ${fit === 'bend' ? `${plain(least)} to ` : ''}${plain(edge)} mm, creases from ${plain(creases)}°`,
  },
  () => import('./make'),
)
