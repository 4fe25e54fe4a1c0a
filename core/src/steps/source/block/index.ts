import { z } from 'zod'
import { latticeFor } from '../../../outline/lattice'
import { roundedBox, sidesFor, turnedBar, turnedRing } from '../../../solid/revolve'
import type { Solid } from '../../../solid/solid'
import { meta, plain } from '../../meta'
import { defineStep, failed } from '../../step'
import { curvesWithin, millimetres } from '../../shared/lengths'

const SHAPES = ['box', 'ball', 'cylinder', 'cone', 'ring'] as const

const blockParams = z.object({
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

type Params = z.infer<typeof blockParams>

export const block = defineStep({
  kind: 'block',
  version: 1,
  family: 'Source',
  title: 'Block',
  summary: 'A plain solid to carve, stand on or join with: box, ball, cylinder, cone or ring.',
  takes: [],
  gives: 'solid',
  params: blockParams,
  describe: ({ shape, width, height, depth, bar }) =>
    ({
      box: `Box, ${plain(width)} × ${plain(height)} × ${plain(depth)} mm`,
      ball: `Ball, ${plain(width)} mm across`,
      cylinder: `Cylinder, ${plain(width)} mm across, ${plain(height)} mm high`,
      cone: `Cone, ${plain(width)} mm across, ${plain(height)} mm high`,
      ring: `Ring, ${plain(width)} mm across, a bar of ${plain(bar)} mm`,
    })[shape],

  async evaluate(_input, params) {
    if (params.shape === 'ring' && 2 * params.bar >= params.width)
      return failed(
        'no-hole',
        'The bar is so thick that the ring has no hole.',
        `Make the bar thinner than ${plain(params.width / 2)} mm, or the ring wider.`,
        'bar',
      )
    const solid = made(params)
    return { ok: true, value: { ...solid, layers: [{ name: 'Block' }] }, issues: [] }
  },
})

function made({ shape, width, height, depth, rounding, top, bar, tolerance }: Params): Solid {
  const lattice = latticeFor(Math.max(width, height, depth))
  const sides = sidesFor(width / 2, tolerance)
  if (shape === 'ball') return roundedBox(width, width, width, width / 2, sides / 4, lattice)
  if (shape === 'box') {
    const r = Math.min(rounding, width / 2, height / 2, depth / 2)
    return roundedBox(width, height, depth, r, Math.max(2, sidesFor(r, tolerance) / 4), lattice)
  }
  if (shape === 'ring') return turnedRing((width - bar) / 2, bar / 2, sides, sidesFor(bar / 2, tolerance), lattice)
  return turnedBar(width / 2, shape === 'cone' ? top / 2 : width / 2, height, sides, lattice)
}
