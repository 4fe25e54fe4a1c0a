import { z } from 'zod'
import { scattered } from '../../../repeat/scatter'
import { SpotList } from '../../../repeat/spots'
import { copyCount } from '../../../solid/assembly'
import { lettersIn } from '../../../mask/painted'
import type { Matrix } from '../../../solid/operations'
import { triangleCount } from '../../../solid/solid'
import { meta, plain } from '../../meta'
import { seedParam } from '../../shared/seed'
import { carrierOf, setOnCarrier } from '../../shared/grounds'
import { millimetres } from '../../shared/lengths'
import { maskedInput, maskOf } from '../../shared/masks'
import { byHandParam, holeFields, powerField, tooManyCopies, unitFields, unitOf, unitsNamed } from '../../shared/repeating'
import { defineStep, failed } from '../../step'

const onSurfaceParams = z.object({
  ...unitFields,
  pitch: millimetres('The spacing', 0.1, 5000)
    .default(6)
    .meta(
      meta({ title: 'Spacing', unit: 'mm', step: 0.5, pull: 'right', strengths: [4, 5, 6, 9, 14], description: 'None stands nearer than this to another.' }),
    ),
  facing: z
    .enum(['off', 'forward', 'up'])
    .default('off')
    .meta(meta({ title: 'Facing', labels: ['Off the surface', 'Forward', 'Upwards'] })),
  spin: z
    .boolean()
    .default(true)
    .meta(meta({ title: 'Turned at random', description: 'About its own axis.' })),
  seed: seedParam(),
  mask: maskOf(),
  ...holeFields,
  power: powerField,
  hand: byHandParam,
})

export const onSurface = defineStep({
  kind: 'on-surface',
  version: 1,
  family: 'Repeat',
  title: 'On a surface',
  summary: 'Scatters pearls, studs or any piece over the whole surface or what a mask leaves of it, even by area, in no order.',
  takes: ['solid', 'assembly'],
  gives: 'assembly',
  params: onSurfaceParams,
  describe: ({ pitch, unit, width, size, mask }) =>
    `${unitsNamed(unit)} ${unit === 'piece' ? `at ${plain(size)} %` : `of ${plain(width)} mm`}, ${plain(pitch)} mm apart${mask.list.length > 0 ? ', by mask' : ''}`,

  async evaluate(input, params, context) {
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
  },
})

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
