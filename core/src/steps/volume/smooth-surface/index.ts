import { plain } from '../../meta'
import { defineStep } from '../../step'
import { smoothParams } from './schema'

export const smoothSurface = defineStep(
  {
    kind: 'smooth-surface',
    version: 2,
    family: 'Volume',
    title: 'Smooth surface',
    summary: 'Takes roughness out of a surface without shrinking it; creases and borders keep their lines.',
    takes: ['solid'],
    gives: 'solid',
    params: smoothParams,
    describe: ({ rounds, creases }) => `${rounds === 1 ? 'One round' : `${rounds} rounds`}, creases from ${plain(creases)}°`,
  },
  () => import('./make'),
)
