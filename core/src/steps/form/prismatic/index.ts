import { plain } from '../../meta'
import { defineStep } from '../../step'
import { prismaticParams } from './schema'

export const prismatic = defineStep(
  {
    kind: 'prismatic',
    version: 1,
    family: 'Form',
    title: 'Prismatic',
    summary: 'Ridged letters, as a carver cuts them: slopes from every side that meet along the middle.',
    takes: ['outline'],
    gives: 'solid',
    params: prismaticParams,
    describe: ({ by, angle, height, walls, way }) =>
      `${way === 'raised' ? 'Ridges' : 'Sunk ridges'} ${by === 'angle' ? `at ${plain(angle)}°` : `${plain(height)} mm high`}, walls ${plain(walls)} mm`,
  },
  () => import('./make'),
)
