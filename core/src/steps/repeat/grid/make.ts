import { gridCount, gridSpots } from '../../../repeat/patterns'
import { asAssembly } from '../../../repeat/assemble'
import { assemblyBounds } from '../../../solid/assembly'
import { repeatInStep, tooManyCopies } from '../../shared/repeating'
import { type Evaluate, failed } from '../../step'
import type { gridParams } from './schema'

export const evaluate: Evaluate<typeof gridParams> = async (input, params) => {
  if (!input || input.kind === 'outline') return failed('no-solid', 'Grid needs a solid to repeat.', 'Put a form such as Extrude before it.')
  const { gap, gaps, gapDown, gapDeep, hand } = params
  const many = tooManyCopies(gridCount(params), 'across')
  if (many) return many
  const unit = asAssembly(input)
  const [x0, y0, z0, x1, y1, z1] = assemblyBounds(unit)
  if (!Number.isFinite(x0)) return failed('empty', 'There is nothing to repeat.', 'Put something before this step.')
  const step = [x1 - x0 + gap, y1 - y0 + (gaps === 'alike' ? gap : gapDown), z1 - z0 + (gaps === 'alike' ? gap : gapDeep)] as const
  return repeatInStep({ unit, spots: gridSpots({ ...params, step }), hand, reach: 0.5 })
}
