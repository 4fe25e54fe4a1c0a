import { ringSpots } from '../../../repeat/patterns'
import { asAssembly } from '../../../repeat/assemble'
import { assemblyBounds, movedAssembly } from '../../../solid/assembly'
import { shift } from '../../../repeat/spots'
import { repeatInStep } from '../../shared/repeating'
import { type Evaluate, failed } from '../../step'
import type { ringParams } from './schema'

export const evaluate: Evaluate<typeof ringParams> = async (input, params) => {
  if (!input || input.kind === 'outline') return failed('no-solid', 'Ring needs a solid to repeat.', 'Put a form such as Extrude before it.')
  if (params.sweep === 0 && params.count > 1)
    return failed('no-angle', 'Over an angle of 0° all copies stand at one place.', 'Give an angle; 360° is the whole ring.', 'sweep')
  const given = asAssembly(input)
  const [x0, y0, z0, x1, y1, z1] = assemblyBounds(given)
  if (!Number.isFinite(x0)) return failed('empty', 'There is nothing to repeat.', 'Put something before this step.')
  // it is the middle of a copy that goes round; the back of upright ones stays where it is
  const unit = movedAssembly(given, shift(-(x0 + x1) / 2, -(y0 + y1) / 2, params.plane === 'lying' ? -(z0 + z1) / 2 : 0))
  return repeatInStep({ unit, spots: ringSpots(params), hand: params.hand, reach: 0.5 })
}
