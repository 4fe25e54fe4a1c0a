import { plain } from '../../meta'
import { defineStep } from '../../step'
import { waveParams, type WAYS } from './schema'

const WORDS: Record<(typeof WAYS)[number], string> = { up: 'up and down', forward: 'to and fro', sideways: 'from side to side', ring: 'in rings' }

export const wave = defineStep(
  {
    kind: 'wave',
    version: 3,
    family: 'Deform',
    title: 'Wave',
    summary: 'Lets the piece roll like water: along its length, upwards, or in rings.',
    takes: ['solid'],
    gives: 'solid',
    params: waveParams,
    describe: ({ height, way, fit, count, length }) =>
      `${plain(height)} mm ${WORDS[way]}, ${fit === 'count' ? `${plain(count)} waves` : `every ${plain(length)} mm`}`,
  },
  () => import('./make'),
)
