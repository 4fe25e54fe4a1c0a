import { z } from 'zod'
import { nodePath } from '../../../outline/node-path'
import { meta } from '../../meta'

export const MAX_SHAPES = 2000
const MAX_ALL_NODES = 50_000

const id = z.string().min(1).max(64)

/** Something drawn: a closed outline is an area, an open line a stroke; with a width, either is brushed and an area. */
const drawnShape = nodePath.extend({
  id,
  layer: id,
  /** mm at full pressure; 0 for a line without width */
  width: z.number().min(0).max(500).default(0),
})
const drawnLayer = z.object({
  id,
  name: z.string().min(1).max(120),
  colour: z
    .string()
    .regex(/^#[0-9a-f]{6}$/)
    .optional(),
})

export const drawingParams = z.object({
  shapes: z
    .array(drawnShape)
    .max(MAX_SHAPES, `A drawing holds at most ${MAX_SHAPES} shapes.`)
    .refine((shapes) => shapes.reduce((sum, s) => sum + s.nodes.length, 0) <= MAX_ALL_NODES, `A drawing holds at most ${MAX_ALL_NODES} nodes.`)
    .default([])
    .meta(meta({ title: 'Drawing', drawn: true })),
  layers: z
    .array(drawnLayer)
    .min(1)
    .max(200)
    .default([{ id: 'drawing', name: 'Drawing' }])
    .meta(meta({ title: 'Layers', indirect: true })),
  overlaps: z
    .enum(['visible', 'keep'])
    .default('visible')
    .meta(
      meta({
        title: 'Overlaps',
        labels: ['Cut to what is seen', 'Keep whole'],
        description: 'What lies under another layer is cut away, or stays for a relief in layers.',
      }),
    ),
  gap: z
    .number('The gap must be a number.')
    .min(0)
    .max(50)
    .default(0.06)
    .meta(
      meta({
        title: 'Gap',
        unit: 'mm',
        step: 0.02,
        description: 'Air between neighbouring layers, so that their solids do not share walls.',
        when: { field: 'overlaps', is: ['visible'] },
      }),
    ),
})

export type DrawnShape = z.infer<typeof drawnShape>
