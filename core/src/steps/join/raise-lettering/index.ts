import { plain } from '../../meta'
import { layingWords } from '../../shared/laying-fields'
import { defineStep } from '../../step'
import { raiseLetteringParams } from './schema'

export const raiseLettering = defineStep(
  {
    kind: 'raise-lettering',
    version: 5,
    family: 'Join',
    title: 'Raise lettering',
    summary: 'Raises words on this piece or round it, with an edge of their own.',
    takes: ['solid'],
    gives: 'solid',
    params: raiseLetteringParams,
    describe: (params) => {
      const { height, front } = params
      return `${plain(height)} mm high${front.profile === 'square' ? '' : `, ${front.profile.replaceAll('-', ' ')} ${plain(front.inset)} mm`}${layingWords(params)}`
    },
  },
  () => import('./make'),
)
