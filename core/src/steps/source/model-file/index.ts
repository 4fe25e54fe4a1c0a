import { defineStep } from '../../step'
import { modelParams } from './schema'

export const modelFile = defineStep(
  {
    kind: 'model-file',
    version: 2,
    family: 'Source',
    title: 'Model file',
    summary: 'Brings in a model as STL, OBJ, PLY, glTF or 3MF, to carve words into or raise them on.',
    takes: [],
    gives: 'solid',
    params: modelParams,
    describe: ({ file, repair }) =>
      file.sha256 ? `${file.name || 'A model'}${repair === 'on' ? ', repaired' : repair === 'rebuild' ? ', rebuilt' : ''}` : 'No file chosen yet',
  },
  () => import('./make'),
)
