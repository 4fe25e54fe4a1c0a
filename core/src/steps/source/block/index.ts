import { plain } from '../../meta'
import { defineStep } from '../../step'
import { blockParams } from './schema'

export const block = defineStep(
  {
    kind: 'block',
    version: 1,
    family: 'Source',
    title: 'Block',
    summary: 'A plain solid to carve, stand on or join with: box, ball, cylinder, cone or ring.',
    takes: [],
    gives: 'solid',
    params: blockParams,
    describe: ({ shape, width, height, depth, bar }) =>
      ({
        box: `Box, ${plain(width)} × ${plain(height)} × ${plain(depth)} mm`,
        ball: `Ball, ${plain(width)} mm across`,
        cylinder: `Cylinder, ${plain(width)} mm across, ${plain(height)} mm high`,
        cone: `Cone, ${plain(width)} mm across, ${plain(height)} mm high`,
        ring: `Ring, ${plain(width)} mm across, a bar of ${plain(bar)} mm`,
      })[shape],
  },
  () => import('./make'),
)
