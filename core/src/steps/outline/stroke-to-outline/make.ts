import { loadManifold } from '../../../kernel/manifold'
import { regionFrom } from '../../../outline/areas'
import { strokeOutlines } from '../../../outline/stroker'
import { type Evaluate, failed } from '../../step'
import type { strokeToOutlineParams } from './schema'

export const evaluate: Evaluate<typeof strokeToOutlineParams> = async (input, { width, cap, join, dash, space }) => {
  if (input?.kind !== 'outline') return failed('no-outline', 'Stroke to outline needs an outline to work on.', 'Put a source such as Vector file before it.')
  if (input.strokes.length === 0) return failed('no-strokes', 'The outline has no open strokes.', 'Remove this step, or bring in a drawing with open lines.')
  await loadManifold()
  const paths = strokeOutlines(input.strokes, { width, cap, join, dashes: dash > 0 ? [dash, space] : [] }, 0.01)
  const layers = [...input.layers, { id: 'strokes', name: 'Strokes' }]
  return { ok: true, value: { ...input, strokes: [], layers, regions: [...input.regions, regionFrom(paths, -1, layers.length - 1)] }, issues: [] }
}
