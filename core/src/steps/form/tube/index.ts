import { plain } from '../../meta'
import { defineStep } from '../../step'
import { tubeParams } from './schema'

export const tube = defineStep(
  {
    kind: 'tube',
    version: 2,
    family: 'Form',
    title: 'Tube',
    summary: 'A bar bent along the outlines or the drawn strokes, as for neon.',
    takes: ['outline'],
    gives: 'solid',
    params: tubeParams,
    describe: ({ radius, section, gap, offset }) =>
      [
        `${section === 'round' ? 'Round' : section === 'square' ? 'Square' : 'Profiled'} bar, ${plain(radius)} mm radius`,
        ...(offset !== 0 ? [`${plain(Math.abs(offset))} mm ${offset > 0 ? 'outside' : 'inside'}`] : []),
        ...(gap > 0 ? [`gaps of ${plain(gap)} mm`] : []),
      ].join(' · '),
  },
  () => import('./make'),
)
