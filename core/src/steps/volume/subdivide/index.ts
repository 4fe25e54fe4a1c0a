import { plain } from '../../meta'
import { defineStep } from '../../step'
import { subdivideParams } from './schema'

export const subdivide = defineStep(
  {
    kind: 'subdivide',
    version: 1,
    family: 'Volume',
    title: 'Subdivide',
    summary: 'Four triangles for each one, rounded between the creases.',
    takes: ['solid'],
    gives: 'solid',
    params: subdivideParams,
    describe: ({ times, how, creases }) => `${times === 1 ? 'Once' : `${times} times`}, ${how === 'round' ? `creases from ${plain(creases)}°` : 'as it is'}`,
  },
  () => import('./make'),
)
