import { plain } from '../../meta'
import { defineStep } from '../../step'
import { type Params, reliefParams } from './schema'

export const relief = defineStep(
  {
    kind: 'relief',
    version: 1,
    family: 'Form',
    title: 'Relief',
    summary: 'A front that rises and falls by the light of a picture, or by the distance from the outline.',
    takes: ['outline'],
    gives: 'solid',
    params: reliefParams,
    describe: ({ by, height, base, file, curve }) =>
      `${plain(height)} mm of relief by ${by === 'picture' ? file.name || 'a picture' : `distance, ${CURVE_WORDS[curve]}`}, on ${plain(base)} mm`,
  },
  () => import('./make'),
)

const CURVE_WORDS: Record<Params['curve'], string> = { dome: 'domed', slope: 'sloping', hollow: 'hollow', wave: 'in a double curve', ripples: 'in ripples' }
