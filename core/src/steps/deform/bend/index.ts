import { plain } from '../../meta'
import { defineStep } from '../../step'
import { bendParams, type WAYS } from './schema'

export const bend = defineStep(
  {
    kind: 'bend',
    version: 3,
    family: 'Deform',
    title: 'Bend',
    summary: 'Bends the piece into an arch, a curve or a full ring; lengths stay on a line of your choice.',
    takes: ['solid'],
    gives: 'solid',
    params: bendParams,
    describe: ({ by, angle, radius, way }) => `${by === 'angle' ? `${plain(angle)}°` : `Radius ${plain(radius)} mm`}, ${WORDS[way]}`,
  },
  () => import('./make'),
)

const WORDS: Record<(typeof WAYS)[number], string> = { arch: 'into an arch', back: 'away to the back', roll: 'top to the back' }
