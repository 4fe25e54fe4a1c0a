import { plain } from '../../meta'
import { defineStep } from '../../step'
import { vectorFileParams, type VectorFileParams } from './schema'

export const vectorFile = defineStep(
  {
    kind: 'vector-file',
    version: 1,
    family: 'Source',
    title: 'Vector file',
    summary: 'Brings in an SVG or DXF drawing, each of its colours or layers a layer.',
    takes: [],
    gives: 'outline',
    params: vectorFileParams,

    describe(params) {
      return params.file.sha256 ? `${params.file.name || 'A drawing'}${sizeInWords(params)}` : 'No file chosen yet'
    },
  },
  () => import('./make'),
)

const sizeInWords = ({ sizing, scale, width, height }: VectorFileParams): string => {
  if (sizing === 'width') return `, ${plain(width)} mm wide`
  if (sizing === 'height') return `, ${plain(height)} mm high`
  return scale === 100 ? '' : ` at ${plain(scale)} %`
}
