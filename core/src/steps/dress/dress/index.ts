import { named } from '../../../look/words'
import { defineStep } from '../../step'
import { dressParams } from './schema'

export const dress = defineStep(
  {
    kind: 'dress',
    version: 2,
    family: 'Dress',
    title: 'Dress',
    summary: 'Gives face, edge, return, back and inside their own colour and finish, and single letters, layers and bands theirs.',
    takes: ['solid', 'assembly'],
    gives: (takes) => takes,
    params: dressParams,

    describe(params) {
      const extra = [
        ...(params.palette === 'none' ? [] : [`${params.colours.length} colours by ${params.palette}`]),
        ...(params.rules.length > 0 ? [`${params.rules.length} rule${params.rules.length === 1 ? '' : 's'}`] : []),
      ]
      return [`Face ${named(params.face)}`, `edge ${named(params.edge)}`, ...(extra.length > 0 ? extra : [`return ${named(params.return)}`])].join(' · ')
    },
  },
  () => import('./make'),
)
