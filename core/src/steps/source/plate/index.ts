import { plain } from '../../meta'
import { defineStep } from '../../step'
import { plateParams, type PlateParams } from './schema'

const WORDS: Record<PlateParams['shape'], string> = {
  rectangle: 'Rectangle',
  rounded: 'Rounded plate',
  pill: 'Pill',
  disc: 'Disc',
  arch: 'Arch',
  shield: 'Shield',
  hugging: 'Hugging a piece',
}

export const plate = defineStep(
  {
    kind: 'plate',
    version: 1,
    family: 'Source',
    title: 'Plate',
    summary: 'A plate to stand words on or cut them out of: rectangle, pill, disc, arch, shield, or hugging a piece.',
    takes: [],
    gives: 'outline',
    params: plateParams,
    describe: ({ shape, size, width, height, margin }) =>
      shape === 'hugging' || size === 'piece' ? `${WORDS[shape]}, ${plain(margin)} mm about a piece` : `${WORDS[shape]}, ${plain(width)} × ${plain(height)} mm`,
  },
  () => import('./make'),
)
