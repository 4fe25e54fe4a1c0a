import { plain } from '../../meta'
import { defineStep } from '../../step'
import { shearParams, type WAYS } from './schema'

const WORDS: Record<(typeof WAYS)[number], string> = {
  slant: 'slanted',
  rise: 'rising',
  right: 'front to the right',
  up: 'front upwards',
  lean: 'top forwards',
  swing: 'end forwards',
}

export const shear = defineStep(
  {
    kind: 'shear',
    version: 3,
    family: 'Deform',
    title: 'Shear',
    summary: 'Slants the piece: every level is moved further than the one below it.',
    takes: ['solid'],
    gives: 'solid',
    params: shearParams,
    describe: ({ angle, way }) => `${plain(angle)}°, ${WORDS[way]}`,
  },
  () => import('./make'),
)
