import { plain } from '../../meta'
import { defineStep } from '../../step'
import { roundCornersParams } from './schema'

export const roundCornersStep = defineStep(
  {
    kind: 'round-corners',
    version: 1,
    family: 'Outline',
    title: 'Round corners',
    summary: 'Rounds corners by a radius, outer and inner ones apart.',
    takes: ['outline'],
    gives: 'outline',
    params: roundCornersParams,
    describe: ({ outer, inner }) =>
      [outer > 0 && `outer corners ${plain(outer)} mm`, inner > 0 && `inner ones ${plain(inner)} mm`].filter(Boolean).join(', ') || 'Corners left as they are',
  },
  () => import('./make'),
)
