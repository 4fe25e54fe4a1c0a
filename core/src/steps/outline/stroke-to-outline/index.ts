import { z } from 'zod'
import { loadManifold } from '../../../kernel/manifold'
import { regionFrom } from '../../../outline/areas'
import { CAPS, JOINS, strokeOutlines } from '../../../outline/stroker'
import { meta, plain } from '../../meta'
import { defineStep, failed } from '../../step'

const strokeToOutlineParams = z.object({
  width: z
    .number('The width must be a number.')
    .min(0.05, 'A stroke must be at least 0.05 mm wide.')
    .max(500, 'A stroke can be at most 500 mm wide.')
    .default(3)
    .meta(meta({ title: 'Width', unit: 'mm', step: 0.25 })),
  cap: z
    .enum(CAPS)
    .default('round')
    .meta(meta({ title: 'Ends', labels: ['Flat', 'Round', 'Square'] })),
  join: z
    .enum(JOINS)
    .default('round')
    .meta(meta({ title: 'Corners', labels: ['Mitre', 'Round', 'Bevel'] })),
  dash: z
    .number('The dash must be a number.')
    .min(0)
    .max(1000)
    .default(0)
    .meta(meta({ title: 'Dashes', unit: 'mm', step: 1, description: 'Length of dashes; 0 for a solid line.' })),
  space: z
    .number('The space must be a number.')
    .min(0.1)
    .max(1000)
    .default(4)
    .meta(meta({ title: 'Between', unit: 'mm', step: 1, description: 'Space between dashes.' })),
})

export const strokeToOutline = defineStep({
  kind: 'stroke-to-outline',
  version: 1,
  family: 'Outline',
  title: 'Stroke to outline',
  summary: 'Gives open strokes a width, ends and corners, so that they can be formed.',
  takes: ['outline'],
  gives: 'outline',
  params: strokeToOutlineParams,
  describe: ({ width, cap, dash }) => `Strokes ${plain(width)} mm wide, ${cap} ends${dash > 0 ? `, dashes of ${plain(dash)} mm` : ''}`,
  async evaluate(input, { width, cap, join, dash, space }) {
    if (input?.kind !== 'outline') return failed('no-outline', 'Stroke to outline needs an outline to work on.', 'Put a source such as Vector file before it.')
    if (input.strokes.length === 0) return failed('no-strokes', 'The outline has no open strokes.', 'Remove this step, or bring in a drawing with open lines.')
    await loadManifold()
    const paths = strokeOutlines(input.strokes, { width, cap, join, dashes: dash > 0 ? [dash, space] : [] }, 0.01)
    const layers = [...input.layers, { id: 'strokes', name: 'Strokes' }]
    return { ok: true, value: { ...input, strokes: [], layers, regions: [...input.regions, regionFrom(paths, -1, layers.length - 1)] }, issues: [] }
  },
})
