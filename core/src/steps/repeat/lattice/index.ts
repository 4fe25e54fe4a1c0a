import { plain } from '../../meta'
import { defineStep } from '../../step'
import { latticeParams } from './schema'

export const strutLattice = defineStep(
  {
    kind: 'lattice',
    version: 3,
    family: 'Repeat',
    title: 'Strut lattice',
    summary: 'Bars and balls along an even mesh of the surface, through the inside too if wanted: one solid that a printer takes, or light copies.',
    takes: ['solid'],
    gives: (_takes, params) => (params.as === 'copies' ? 'assembly' : 'solid'),
    params: latticeParams,
    describe: ({ edge, thick, bar, ball, filled, mesh, through, body }) =>
      [
        `${mesh === 'quads' ? 'Squares' : 'Triangles'} of ${plain(edge)} mm`,
        ...(thick === 'filled' ? [`${plain(filled)} % filled`] : [`bars ${plain(2 * bar)} mm`, ...(ball > bar ? [`balls ${plain(2 * ball)} mm`] : [])]),
        ...(through ? ['through the inside'] : []),
        ...(body ? ['with the solid'] : []),
      ].join(' · '),
  },
  () => import('./make'),
)
