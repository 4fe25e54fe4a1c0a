import { plain } from '../../meta'
import { defineStep } from '../../step'
import { sliceParams } from './schema'

export const slice = defineStep(
  {
    kind: 'slice',
    version: 1,
    family: 'Outline',
    title: 'Slice',
    summary: 'Cuts the outline into bands along lines, waves or zigzags; every band is a layer.',
    takes: ['outline'],
    gives: 'outline',
    params: sliceParams,
    describe: ({ cut, count, gap, lines }) =>
      cut === 'drawn'
        ? `Along ${lines.length} drawn ${lines.length === 1 ? 'line' : 'lines'}, ${plain(gap)} mm wide`
        : `${count} ${{ straight: 'straight', wave: 'waved', zigzag: 'zigzag' }[cut]} ${count === 1 ? 'cut' : 'cuts'}, ${plain(gap)} mm wide`,
  },
  () => import('./make'),
)
