import { plain } from '../../meta'
import { defineStep } from '../../step'
import { letteringParams } from './schema'
import { counted } from './counting'

export const lettering = defineStep(
  {
    kind: 'lettering',
    version: 3,
    family: 'Source',
    title: 'Lettering',
    summary: 'Sets words in a face of the type case.',
    takes: [],
    gives: 'outline',
    params: letteringParams,

    describe(params) {
      const words = (params.counts ? counted(params.text, params.number) : params.text).trim().replace(/\s+/g, ' ')
      const shown = words.length > 28 ? `${words.slice(0, 27)}…` : words
      const along = {
        straight: '',
        stack: ' · letters stacked',
        circle: ` · round a ${plain(params.radius)} mm circle`,
        arc: ` · on an arc of ${plain(params.sweep)}°`,
        stroke: ' · along a stroke',
      }[params.layout]
      return `“${shown}” · ${params.font.name} · ${plain(params.size)} mm capitals${along}`
    },
  },
  () => import('./make'),
)
