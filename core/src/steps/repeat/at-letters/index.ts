import { unitNamed } from '../../shared/repeat-fields'
import { defineStep } from '../../step'
import { atLettersParams } from './schema'

export const atLetters = defineStep(
  {
    kind: 'at-letters',
    version: 3,
    family: 'Repeat',
    title: 'At letters',
    summary: 'One for every letter, word or line: hooks, feet, plates or crowns that come with each letter typed.',
    takes: ['outline', 'solid', 'assembly'],
    gives: 'assembly',
    params: atLettersParams,
    describe: ({ by, up, across, unit }) =>
      `${unitNamed(unit)} for each ${by}, ${up === 'middle' && across === 'middle' ? 'in the middle' : `${up}${across === 'middle' ? '' : ` ${across}`}`}`,
  },
  () => import('./make'),
)
