import { plain } from '../../meta'
import { defineStep } from '../../step'
import { balloonParams } from './schema'

export const balloon = defineStep(
  {
    kind: 'balloon',
    version: 2,
    family: 'Physics',
    title: 'Balloon',
    summary: 'Two sheets of each letter, sealed along its outline and filled with gas: foil that wrinkles, or rubber; on strings.',
    takes: ['outline'],
    gives: 'assembly',
    params: balloonParams,
    moves: ['at', 'wind'],
    overTime: ['wind'],
    describe: ({ skin, pressure, tie, at }) =>
      `${skin === 'foil' ? 'Foil' : 'Rubber'} at ${plain(pressure)} %${tie === 'string' ? ' on strings' : ''}, after ${plain(at)} s`,
  },
  () => import('./make'),
)
