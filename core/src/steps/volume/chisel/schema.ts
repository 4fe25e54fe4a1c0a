import { z } from 'zod'
import { meta } from '../../meta'
import { curvePoints } from '../../shared/curve-along'
import { millimetres } from '../../shared/lengths'

const SHAPES = ['cushion', 'slope', 'hollow', 'double', 'terraces', 'groove', 'drawn'] as const

export const chiselParams = z.object({
  shape: z
    .enum(SHAPES)
    .default('cushion')
    .meta(meta({ title: 'Shape', labels: ['Cushion', 'Slope', 'Hollow', 'Double curve', 'Terraces', 'Groove', 'Drawn curve'] })),
  height: z
    .number('The height must be a number.')
    .min(-500, 'At most 500 mm can be sunk.')
    .max(500, 'At most 500 mm can be raised.')
    .default(2)
    .meta(meta({ title: 'Height', unit: 'mm', step: 0.25, pull: 'forward', description: 'Above the flat face; below nought it is sunk. Grooves go down.' })),
  reach: millimetres('The reach', 0.05, 500)
    .default(4)
    .meta(
      meta({
        title: 'Reach',
        unit: 'mm',
        step: 0.5,
        description: 'From the outline to the full height. Where a stroke is narrower, both sides meet in a ridge.',
        when: { field: 'shape', is: ['cushion', 'slope', 'hollow', 'double', 'terraces', 'drawn'] },
      }),
    ),
  terraces: z
    .int('The terraces must be a whole number.')
    .min(1)
    .max(40, 'At most 40 terraces are cut.')
    .default(3)
    .meta(meta({ title: 'Terraces', step: 1, when: { field: 'shape', is: ['terraces'] } })),
  inside: millimetres('The distance', 0.05, 500)
    .default(2)
    .meta(
      meta({
        title: 'Inside by',
        unit: 'mm',
        step: 0.25,
        description: 'From the outline to the middle of the groove.',
        when: { field: 'shape', is: ['groove'] },
      }),
    ),
  width: millimetres('The width', 0.05, 500)
    .default(1.2)
    .meta(meta({ title: 'Width', unit: 'mm', step: 0.1, when: { field: 'shape', is: ['groove'] } })),
  curve: curvePoints('The height', -100, 100)
    .refine((points) => points.length > 0, 'The curve needs a point.')
    .default([
      [0, 0],
      [0.35, 90],
      [0.65, 55],
      [1, 100],
    ])
    .meta(
      meta({
        title: 'Height over the distance',
        unit: '%',
        step: 5,
        holds: 'curve',
        most: 100,
        description: 'From the outline, left, to the whole reach.',
        when: { field: 'shape', is: ['drawn'] },
      }),
    ),
  side: z
    .enum(['front', 'back', 'both'])
    .default('front')
    .meta(meta({ title: 'Side', labels: ['Front', 'Back', 'Both'] })),
  acts: z
    .enum(['faces', 'side'])
    .default('faces')
    .meta(
      meta({
        title: 'Where',
        labels: ['Flat faces', 'The whole side'],
        description:
          'Flat faces by their own borders; the whole side, whatever its shape, by the outline as it is seen. Where there is no flat face it is the whole side.',
      }),
    ),
  within: millimetres('The exactness', 0.002, 1)
    .default(0.01)
    .meta(
      meta({
        title: 'Heights within',
        unit: 'mm',
        step: 0.01,
        advanced: true,
        description: 'Of the curve over the exact distance. Larger makes fewer triangles.',
      }),
    ),
})

export type Params = z.infer<typeof chiselParams>
