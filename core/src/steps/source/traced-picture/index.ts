import { plain } from '../../meta'
import { defineStep } from '../../step'
import { tracedPictureParams } from './schema'

export const tracedPicture = defineStep(
  {
    kind: 'traced-picture',
    version: 1,
    family: 'Source',
    title: 'Traced picture',
    summary: 'Turns a picture into outlines, by light and dark or by its colours.',
    takes: [],
    gives: 'outline',
    params: tracedPictureParams,
    describe: ({ file, by, threshold, colours, width }) =>
      file.sha256
        ? `${file.name || 'A picture'}, ${by === 'threshold' ? `darker than ${plain(threshold)} %` : `${colours} colours`}, ${plain(width)} mm wide`
        : 'No picture chosen yet',
  },
  () => import('./make'),
)
