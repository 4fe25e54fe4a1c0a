import { z } from 'zod'
import { meta } from '../../meta'

const own = (min: number, max: number) => z.number().min(min).max(max).optional()

/** What a layer is given; what is left out stays as it comes. */
const layerRow = z.object({
  /** id of the layer as it comes in */
  layer: z.string().max(200),
  name: z.string().max(120).optional(),
  colour: z
    .string()
    .regex(/^#[0-9a-f]{6}$/, 'A colour is written #rrggbb.')
    .optional(),
  depth: own(0.1, 2000),
  edge: own(0, 500),
  lift: own(-2000, 2000),
  hidden: z.boolean().optional(),
  /** id of the layer it is merged into */
  into: z.string().max(200).optional(),
})

export type LayerRow = z.infer<typeof layerRow>

export const layersParams = z.object({
  table: z
    .array(layerRow)
    .max(500)
    .default([])
    .meta(meta({ title: 'Layers', holds: 'layer table' })),
  order: z
    .array(z.string().max(200))
    .max(500)
    .default([])
    .meta(meta({ title: 'Order', indirect: true })),
})
