import type { Matrix } from '../../../solid/operations'
import { type Solid, solidBounds } from '../../../solid/solid'
import { plain } from '../../meta'
import { boundsAt, fallenOut, frontUnder, joinInStep, lessDeep, lifted, missing, solidOf, thinFloor, volumeWords } from '../../shared/joining'
import { BEYOND } from '../../shared/join-fields'
import { type carveParams, OFFERED_DEPTH } from './schema'
import type { Evaluate } from '../../step'

export const evaluate: Evaluate<typeof carveParams> = async (input, params, context) => {
  const { stand, depth, leave } = params
  const result = await joinInStep(input, context, {
    title: 'Carve',
    how: 'carve',
    standing:
      (body) =>
      ({ solid, matrix }) =>
        standing(body, solid, matrix, stand, depth),
  })
  if ('failure' in result) return result.failure
  const { joined, partners } = result
  const apart = missing(partners, joined.apart, stand === 'placed' ? [toDepth(OFFERED_DEPTH), THROUGH] : [])
  await context.breathe()
  const { issues, left } = thinFloor(joined.solid, leave, stand === 'depth' ? 'depth' : 'stand', (by) => [
    ...(stand === 'depth' && lessDeep(depth, by) > 0 ? [toDepth(lessDeep(depth, by))] : []),
    THROUGH,
  ])
  const cut = `${volumeWords(joined.before - joined.after)} of ${volumeWords(joined.before)} cut out`
  const loose = fallenOut(solidOf(input) as Solid, joined.solid)
  return { ok: true, value: joined.solid, issues: [...apart, ...loose, ...issues], told: left === undefined ? cut : `${cut}, ${plain(left)} mm left behind` }
}

const toDepth = (depth: number) => ({ label: `Sink to ${plain(depth)} mm`, params: { stand: 'depth', depth } })

const THROUGH = { label: 'Right through', params: { stand: 'through' } }

/** Where a cutter stands: where it was put, with its lowest point so deep under the face, or stretched until it reaches through. */
function standing(body: Solid, solid: Solid, matrix: Matrix, stand: 'placed' | 'depth' | 'through', depth: number): Matrix {
  if (stand === 'placed') return matrix
  const box = boundsAt(solid, matrix)
  const height = box[5] - box[2]
  if (stand === 'through') {
    const [, , back, , , front] = solidBounds(body.positions)
    return stretched(matrix, box[2], Math.max(1, (front - back + 2 * BEYOND) / height), back - BEYOND)
  }
  const face = frontUnder(body, box)
  // a cutter that is thinner than the cut is deep would leave a roof over it
  const reach = depth + BEYOND
  return height >= reach ? lifted(matrix, face - depth - box[2]) : stretched(matrix, box[2], reach / height, face - depth)
}

/** A matrix after which heights above `foot` are multiplied and stand on another foot. */
function stretched(m: Matrix, foot: number, by: number, onto: number): Matrix {
  return [...m.slice(0, 8), m[8] * by, m[9] * by, m[10] * by, (m[11] - foot) * by + onto] as unknown as Matrix
}
