import { plain } from '../../meta'
import { unitsNamed } from '../../shared/repeat-fields'
import { defineStep } from '../../step'
import { fillParams } from './schema'

const WORDS = { middle: 'down the middle', rows: 'in rows', hexagons: 'in a honeycomb', dots: 'scattered' } as const

export const fillInside = defineStep(
  {
    kind: 'fill-inside',
    version: 4,
    family: 'Repeat',
    title: 'Fill inside',
    summary: 'Sets bulbs, rivets or any piece inside letters: down the middle of each stroke, in rows, in a honeycomb or scattered.',
    takes: ['outline', 'solid', 'assembly'],
    gives: 'assembly',
    params: fillParams,
    describe: ({ pattern, pitch, unit, width, size }) =>
      `${unitsNamed(unit)} ${unit === 'piece' ? `at ${plain(size)} %` : `of ${plain(width)} mm`}, ${WORDS[pattern]}, every ${plain(pitch)} mm`,
  },
  () => import('./make'),
)
