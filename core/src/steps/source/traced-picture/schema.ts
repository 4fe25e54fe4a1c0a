import { z } from 'zod'
import { meta } from '../../meta'
import { pictureFile } from '../../shared/picture-field'

export const tracedPictureParams = z.object({
  file: pictureFile.meta(meta({ title: 'Picture', holds: 'picture file' })),
  width: z
    .number('The width must be a number.')
    .min(1, 'The picture must be at least 1 mm wide.')
    .max(5000, 'The picture can be at most 5000 mm wide.')
    .default(100)
    .meta(meta({ title: 'Width', unit: 'mm', step: 5, description: 'Of the whole picture, its margins included.' })),
  by: z
    .enum(['threshold', 'colours'])
    .default('threshold')
    .meta(meta({ title: 'Trace by', labels: ['Light and dark', 'Colours'] })),
  threshold: z
    .number('The threshold must be a number.')
    .min(1)
    .max(99)
    .default(50)
    .meta(
      meta({
        title: 'Threshold',
        unit: '%',
        step: 1,
        tried: true,
        description: 'What is darker than this is traced.',
        when: { field: 'by', is: ['threshold'] },
      }),
    ),
  invert: z
    .boolean()
    .default(false)
    .meta(meta({ title: 'Trace the light', when: { field: 'by', is: ['threshold'] } })),
  colours: z
    .number('The number of colours must be a number.')
    .int()
    .min(2, 'There must be two colours at least.')
    .max(16, 'There can be 16 colours at most.')
    .default(4)
    .meta(meta({ title: 'Colours', step: 1, when: { field: 'by', is: ['colours'] } })),
  ground: z
    .enum(['leave', 'keep'])
    .default('leave')
    .meta(meta({ title: 'Ground', labels: ['Left out', 'Kept'], description: 'The colour that most of the rim has.', when: { field: 'by', is: ['colours'] } })),
  speckle: z
    .number('The size of speckles must be a number.')
    .min(0)
    .max(1000)
    .default(0.5)
    .meta(meta({ title: 'Speckles below', unit: 'mm²', step: 0.25, description: 'Islands and holes smaller than this are dropped.' })),
  smoothness: z
    .number('The smoothness must be a number.')
    .min(0)
    .max(100)
    .default(35)
    .meta(meta({ title: 'Smoothness', unit: '%', step: 5, tried: true })),
})
