import { rowSpots } from '../../../repeat/patterns'
import { asAssembly } from '../../../repeat/assemble'
import { assemblyBounds } from '../../../solid/assembly'
import { plain } from '../../meta'
import { repeatInStep } from '../../shared/repeating'
import { type Evaluate, failed } from '../../step'
import type { rowParams } from './schema'

export const evaluate: Evaluate<typeof rowParams> = async (input, { count, way, by, gap, pitch, length, aside, turn, from, hand }) => {
  if (!input || input.kind === 'outline') return failed('no-solid', 'Row needs a solid to repeat.', 'Put a form such as Extrude before it.')
  const unit = asAssembly(input)
  const box = assemblyBounds(unit)
  if (!Number.isFinite(box[0])) return failed('empty', 'There is nothing to repeat.', 'Put something before this step.')
  const k = way === 'right' ? 0 : way === 'up' || way === 'down' ? 1 : 2
  const size = box[k + 3] - box[k]
  const over = count > 1 ? (length - size) / (count - 1) : 0
  if (by === 'over' && over <= 0)
    return failed('too-short', `The length is shorter than one copy, ${plain(size)} mm.`, `Give more than ${plain(size)} mm.`, 'length')
  const each = by === 'gap' ? size + gap : by === 'pitch' ? pitch : over
  const step: [number, number, number] = [0, 0, 0]
  step[k] = way === 'down' || way === 'back' ? -each : each
  step[k === 0 ? 1 : 0] = aside
  return repeatInStep({ unit, spots: rowSpots({ count, step, turn, from }), hand, reach: 0.5 })
}
