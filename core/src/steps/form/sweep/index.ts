import { plain } from '../../meta'
import { sweepParams } from './schema'
import { defineStep } from '../../step'

export const sweep = defineStep(
  {
    kind: 'sweep',
    version: 2,
    family: 'Form',
    title: 'Sweep',
    summary: 'A section drawn along strokes, thicker and thinner, turning and shifting, as a pen or a ribbon would.',
    takes: ['outline'],
    gives: 'solid',
    params: sweepParams,
    describe: ({ section, width, height, course, sizeStart, sizeMiddle, sizeEnd, ends }) =>
      `${section === 'half' ? 'Half round' : section === 'piece' ? 'A piece’s' : section.charAt(0).toUpperCase() + section.slice(1)} section, ${plain(width)} × ${plain(height)} mm${
        course === 'curves'
          ? ', along drawn curves'
          : sizeStart === 100 && sizeMiddle === 100 && sizeEnd === 100
            ? ''
            : `, ${plain(sizeStart)} to ${plain(sizeMiddle)} to ${plain(sizeEnd)} %`
      }, ${ends} ends`,
  },
  () => import('./make'),
)
