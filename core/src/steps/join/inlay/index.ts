import { plain } from '../../meta'
import { layingWords } from '../../shared/laying-fields'
import { defineStep } from '../../step'
import { inlayParams } from './schema'

export const inlay = defineStep(
  {
    kind: 'inlay',
    version: 4,
    family: 'Join',
    title: 'Inlay',
    summary: 'Cuts a pocket that an insert of the same words fits into, with the clearance, lead-in and height of both in one place.',
    takes: ['solid'],
    gives: 'solid',
    params: inlayParams,
    describe: (params) => {
      const { depth, clearance, proud } = params
      const height = proud === 0 ? ', flush' : proud > 0 ? `, ${plain(proud)} mm proud` : `, ${plain(-proud)} mm sunk`
      return `Pocket ${plain(depth)} mm deep, ${plain(clearance)} mm clear${height}${layingWords(params)}`
    },
  },
  () => import('./make'),
)
