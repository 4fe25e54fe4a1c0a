import { plain } from '../../meta'
import { defineStep } from '../../step'
import { brushParams } from './schema'

export const brush = defineStep(
  {
    kind: 'brush',
    version: 2,
    family: 'Form',
    title: 'Brush',
    summary: 'Paints letters or drawn strokes: ridged strips of paint along their middle, pointed where the brush leaves.',
    takes: ['outline'],
    gives: 'solid',
    params: brushParams,
    describe: ({ by, along, width, share, height, bristles }) =>
      [
        along !== 'strokes' && by === 'own' ? `${plain(share)} % of the letters’ strokes` : `${plain(width)} mm wide`,
        `${plain(height)} mm high`,
        `${bristles} ridge${bristles === 1 ? '' : 's'}`,
      ].join(' · '),
  },
  () => import('./make'),
)
