import { z } from 'zod'
import { meta } from '../../meta'
import { curvesWithin, millimetres } from '../../shared/lengths'

const SHAPES = ['box', 'ball', 'cylinder', 'cone', 'ring'] as const

export const blockParams = z.object({
  shape: z
    .enum(SHAPES)
    .default('box')
    .meta(meta({ title: 'Shape', labels: ['Box', 'Ball', 'Cylinder', 'Cone', 'Ring'] })),
  width: millimetres('The width', 0.1, 5000)
    .default(80)
    .meta(meta({ title: 'Width', unit: 'mm', step: 1, pull: 'right', pullBy: 2, description: 'From side to side; of round ones the diameter.' })),
  height: millimetres('The height', 0.1, 5000)
    .default(40)
    .meta(meta({ title: 'Height', unit: 'mm', step: 1, pull: 'up', when: { field: 'shape', is: ['box', 'cylinder', 'cone'] } })),
  depth: millimetres('The depth', 0.1, 5000)
    .default(20)
    .meta(meta({ title: 'Depth', unit: 'mm', step: 1, pull: 'forward', when: { field: 'shape', is: ['box'] } })),
  rounding: millimetres('The rounding', 0, 2500)
    .default(0)
    .meta(meta({ title: 'Rounded edges', unit: 'mm', step: 0.5, when: { field: 'shape', is: ['box'] } })),
  top: millimetres('The top', 0, 5000)
    .default(0)
    .meta(meta({ title: 'Top', unit: 'mm', step: 1, description: 'Diameter at the top; 0 ends in a point.', when: { field: 'shape', is: ['cone'] } })),
  bar: millimetres('The bar', 0.1, 2000)
    .default(12)
    .meta(meta({ title: 'Bar', unit: 'mm', step: 0.5, description: 'Thickness of the ring.', when: { field: 'shape', is: ['ring'] } })),
  tolerance: curvesWithin,
})
