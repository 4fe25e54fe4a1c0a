import { plain } from '../../meta'
import { defineStep } from '../../step'
import { strokeToOutlineParams } from './schema'

export const strokeToOutline = defineStep(
  {
    kind: 'stroke-to-outline',
    version: 1,
    family: 'Outline',
    title: 'Stroke to outline',
    summary: 'Gives open strokes a width, ends and corners, so that they can be formed.',
    takes: ['outline'],
    gives: 'outline',
    params: strokeToOutlineParams,
    describe: ({ width, cap, dash }) => `Strokes ${plain(width)} mm wide, ${cap} ends${dash > 0 ? `, dashes of ${plain(dash)} mm` : ''}`,
  },
  () => import('./make'),
)
