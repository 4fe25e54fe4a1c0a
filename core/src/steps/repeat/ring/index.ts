import { z } from 'zod'
import { ringSpots } from '../../../repeat/patterns'
import { asAssembly } from '../../../repeat/assemble'
import { assemblyBounds, movedAssembly } from '../../../solid/assembly'
import { shift } from '../../../repeat/spots'
import { meta, plain } from '../../meta'
import { millimetres } from '../../shared/lengths'
import { byHandParam, countOf, repeatInStep } from '../../shared/repeating'
import { defineStep, failed } from '../../step'

const degrees = (title: string, fallback: number) =>
  z
    .number(`${title} must be a number.`)
    .min(-360)
    .max(360)
    .default(fallback)
    .meta(meta({ title, unit: '°', step: 15 }))

const ringParams = z.object({
  count: countOf('The number', 2000)
    .default(8)
    .meta(meta({ title: 'How many', step: 1 })),
  radius: millimetres('The radius', 0.01, 10_000)
    .default(60)
    .meta(meta({ title: 'Radius', unit: 'mm', step: 1, pull: 'right', description: 'From the middle of the ring to the middle of a copy.' })),
  plane: z
    .enum(['upright', 'lying'])
    .default('upright')
    .meta(meta({ title: 'The ring', labels: ['Upright, like a clock', 'Lying, like a carousel'] })),
  sweep: degrees('Over an angle of', 360),
  begin: degrees('Begins at', 0),
  turned: z
    .boolean()
    .default(true)
    .meta(meta({ title: 'Copies turn with it', description: 'Otherwise all look the same way.' })),
  hand: byHandParam,
})

export const ring = defineStep({
  kind: 'ring',
  version: 1,
  family: 'Repeat',
  title: 'Ring',
  summary: 'Copies round a circle or along an arc of one: upright like the hours of a clock, or lying like a carousel.',
  takes: ['solid', 'assembly'],
  gives: 'assembly',
  params: ringParams,
  describe: ({ count, radius, sweep, plane }) =>
    `${count} ${plane === 'upright' ? 'round' : 'lying round'} ${plain(radius)} mm${Math.abs(sweep) < 360 ? `, over ${plain(sweep)}°` : ''}`,
  async evaluate(input, params) {
    if (!input || input.kind === 'outline') return failed('no-solid', 'Ring needs a solid to repeat.', 'Put a form such as Extrude before it.')
    if (params.sweep === 0 && params.count > 1)
      return failed('no-angle', 'Over an angle of 0° all copies stand at one place.', 'Give an angle; 360° is the whole ring.', 'sweep')
    const given = asAssembly(input)
    const [x0, y0, z0, x1, y1, z1] = assemblyBounds(given)
    if (!Number.isFinite(x0)) return failed('empty', 'There is nothing to repeat.', 'Put something before this step.')
    // it is the middle of a copy that goes round; the back of upright ones stays where it is
    const unit = movedAssembly(given, shift(-(x0 + x1) / 2, -(y0 + y1) / 2, params.plane === 'lying' ? -(z0 + z1) / 2 : 0))
    return repeatInStep({ unit, spots: ringSpots(params), hand: params.hand, reach: 0.5 })
  },
})
