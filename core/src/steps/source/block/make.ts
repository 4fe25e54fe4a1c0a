import type { z } from 'zod'
import { latticeFor } from '../../../outline/lattice'
import { roundedBox, sidesFor, turnedBar, turnedRing } from '../../../solid/revolve'
import type { Solid } from '../../../solid/solid'
import { plain } from '../../meta'
import { type Evaluate, failed } from '../../step'
import type { blockParams } from './schema'

export const evaluate: Evaluate<typeof blockParams> = async (_input, params) => {
  if (params.shape === 'ring' && 2 * params.bar >= params.width)
    return failed(
      'no-hole',
      'The bar is so thick that the ring has no hole.',
      `Make the bar thinner than ${plain(params.width / 2)} mm, or the ring wider.`,
      'bar',
    )
  const solid = made(params)
  return { ok: true, value: { ...solid, layers: [{ name: 'Block' }] }, issues: [] }
}

type Params = z.infer<typeof blockParams>

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
