import { z } from 'zod'
import { meta } from '../../meta'

const radius = (what: string) => z.number(`${what} must be a number.`).min(0, `${what} cannot be below 0 mm.`).max(500, `${what} can be at most 500 mm.`)

export const roundCornersParams = z.object({
  outer: radius('The outer radius')
    .default(1.5)
    .meta(meta({ title: 'Outer', unit: 'mm', step: 0.25, description: 'Radius of corners that stick out.' })),
  inner: radius('The inner radius')
    .default(0)
    .meta(meta({ title: 'Inner', unit: 'mm', step: 0.25, description: 'Radius of corners that go in.' })),
  from: z
    .number('The angle must be a number.')
    .min(1)
    .max(170)
    .default(20)
    .meta(meta({ title: 'Corners from', unit: '°', step: 5, description: 'Turns smaller than this are left as they are.', advanced: true })),
})
