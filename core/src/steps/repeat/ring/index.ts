import { plain } from '../../meta'
import { defineStep } from '../../step'
import { ringParams } from './schema'

export const ring = defineStep(
  {
    kind: 'ring',
    version: 1,
    family: 'Repeat',
    title: 'Ring',
    summary: 'Copies round a circle or along an arc of one: upright like the hours of a clock, or lying like a carousel.',
    takes: ['solid', 'assembly'],
    gives: 'assembly',
    params: ringParams,
    describe: ({ count, radius, sweep, plane }) =>
      `${count} ${plane === 'upright' ? 'round' : 'lying round'} ${plain(radius)} mm${Math.abs(sweep) < 360 ? `, over ${plain(sweep)}°` : ''}`,
  },
  () => import('./make'),
)
