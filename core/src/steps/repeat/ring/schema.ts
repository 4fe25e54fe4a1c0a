import { z } from 'zod'
import { meta } from '../../meta'
import { millimetres } from '../../shared/lengths'
import { byHandParam, countOf } from '../../shared/repeat-fields'

const degrees = (title: string, fallback: number) =>
  z
    .number(`${title} must be a number.`)
    .min(-360)
    .max(360)
    .default(fallback)
    .meta(meta({ title, unit: '°', step: 15 }))

export const ringParams = z.object({
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
