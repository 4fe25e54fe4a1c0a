import { scattered } from '../../../repeat/scatter'
import { SpotList } from '../../../repeat/spots'
import { copyCount } from '../../../solid/assembly'
import { lettersIn } from '../../../mask/painted'
import type { Matrix } from '../../../solid/operations'
import { triangleCount } from '../../../solid/solid'
import { carrierOf, setOnCarrier } from '../../shared/grounds'
import { maskedInput } from '../../shared/masks'
import { tooManyCopies, unitOf } from '../../shared/repeating'
import { type Evaluate, failed } from '../../step'
import type { onSurfaceParams } from './schema'

export const evaluate: Evaluate<typeof onSurfaceParams> = async (input, params, context) => {
  if (!input || input.kind === 'outline') return failed('no-solid', 'On a surface needs a solid.', 'Put a form such as Extrude before it.')
  const carrier = carrierOf(input)
  if (!carrier) return failed('no-body', 'On a surface needs one solid to set copies on, and gets copies only.', 'Put this step before the one that repeats.')
  if (triangleCount(carrier.solid) === 0) return failed('empty', 'There is no surface here.', 'Put something before this step.')
  const unit = unitOf(params, context)
  if ('ok' in unit) return unit
  const masked = maskedInput(carrier.solid, params.mask)
  if (masked.nowhere) return { ok: true, value: input, issues: masked.issues }
  const solid = masked.value?.kind === 'solid' ? masked.value : carrier.solid
  const { pitch, seed, facing, spin } = params
  await context.breathe()
  const { places, letter } = scattered(solid, pitch, seed, masked.weights)
  const many = tooManyCopies(letter.length * copyCount(unit.assembly), 'pitch')
  if (many) return many
  const { corners } = lettersIn(solid)
  const list = new SpotList()
  letter.forEach((of, i) => {
    const [x, y, z, nx, ny, nz] = places.subarray(6 * i, 6 * i + 6)
    const [cx, cy, cz] = of < 0 ? [0, 0, 0] : (corners.get(of) ?? [0, 0, 0])
    const way: readonly [number, number, number] = facing === 'off' ? [nx, ny, nz] : facing === 'forward' ? [0, 0, 1] : [0, 1, 0]
    list.push(standing([x, y, z], way, spin ? hashAngle(seed, i) : 0), of, x - cx, y - cy, z - cz)
  })
  const spots = list.finish()
  if (spots.count === 0) return failed('no-room', 'Not one fits on what the mask leaves.', 'Give a smaller spacing, or widen the mask.', 'pitch')
  return setOnCarrier({ carrier: { ...carrier, letters: input.letters }, unit, spots, params, issues: masked.issues }, context)
}

/** A turn of its own for every place, degrees: the golden angle. */
const hashAngle = (seed: number, i: number): number => (137.50776405 * (i + 1) + 47 * seed) % 360

/** A place whose Z axis looks a way; its X lies level where it can. */
function standing([x, y, z]: readonly [number, number, number], [nx, ny, nz]: readonly [number, number, number], angle: number): Matrix {
  // level, and square to the way it looks
  let [ux, uy, uz] = Math.abs(ny) > 0.999 ? [1, 0, 0] : [nz, 0, -nx]
  const size = Math.hypot(ux, uy, uz)
  ;[ux, uy, uz] = [ux / size, uy / size, uz / size]
  const [vx, vy, vz] = [ny * uz - nz * uy, nz * ux - nx * uz, nx * uy - ny * ux]
  const [c, s] = [Math.cos((angle * Math.PI) / 180), Math.sin((angle * Math.PI) / 180)]
  return [c * ux + s * vx, c * vx - s * ux, nx, x, c * uy + s * vy, c * vy - s * uy, ny, y, c * uz + s * vz, c * vz - s * uz, nz, z]
}
