import { plain } from '../../meta'
import { defineStep } from '../../step'
import { writeOnParams } from './schema'

export const writeOn = defineStep(
  {
    kind: 'write-on',
    version: 2,
    family: 'Outline',
    title: 'Write on',
    summary: 'Keeps of letters and lines as much as a pen has written so far, stroke after stroke, for any form. Key how far it is.',
    takes: ['outline'],
    gives: 'outline',
    params: writeOnParams,
    describe: ({ written, by, backwards }) =>
      [`${plain(written)} % written`, ...(by === 'letter' ? ['all letters at once'] : []), ...(backwards ? ['the last first'] : [])].join(' · '),
  },
  () => import('./make'),
)
