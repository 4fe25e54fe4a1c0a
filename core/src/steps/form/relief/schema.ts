import { z } from 'zod'
import { meta } from '../../meta'
import { pictureFile } from '../../shared/picture-field'
import { curvesWithin, millimetres } from '../../shared/lengths'

const CURVES = ['dome', 'slope', 'hollow', 'wave', 'ripples'] as const

export const reliefParams = z.object({
  by: z
    .enum(['distance', 'picture'])
    .default('distance')
    .meta(meta({ title: 'Height by', labels: ['Distance', 'Picture'] })),
  height: millimetres('The height', 0.05, 500)
    .default(3)
    .meta(meta({ title: 'Height', unit: 'mm', step: 0.25, pull: 'forward', description: 'Between the lowest and the highest part.' })),
  base: millimetres('The base', 0.1, 1000)
    .default(3)
    .meta(meta({ title: 'Base', unit: 'mm', step: 0.5, description: 'What lies under the lowest part.' })),
  curve: z
    .enum(CURVES)
    .default('dome')
    .meta(meta({ title: 'Curve', labels: ['Dome', 'Slope', 'Hollow', 'Double curve', 'Ripples'], when: { field: 'by', is: ['distance'] } })),
  reach: millimetres('The reach', 0.1, 500)
    .default(4)
    .meta(
      meta({
        title: 'Reach',
        unit: 'mm',
        step: 0.5,
        description: 'From the outline to the full height; of ripples, from crest to crest.',
        when: { field: 'by', is: ['distance'] },
      }),
    ),
  file: pictureFile.meta(meta({ title: 'Picture', holds: 'picture file', when: { field: 'by', is: ['picture'] } })),
  spread: z
    .enum(['whole', 'shape'])
    .default('whole')
    .meta(meta({ title: 'Spread over', labels: ['All of it', 'Each letter'], when: { field: 'by', is: ['picture'] } })),
  high: z
    .enum(['light', 'dark'])
    .default('light')
    .meta(meta({ title: 'High is', labels: ['Light', 'Dark'], when: { field: 'by', is: ['picture'] } })),
  division: millimetres('The division', 0.1, 50)
    .default(0.6)
    .meta(meta({ title: 'Grid', unit: 'mm', step: 0.1, description: 'Finer shows more and takes longer.' })),
  tolerance: curvesWithin,
})

export type Params = z.infer<typeof reliefParams>
