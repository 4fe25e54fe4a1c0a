import { z } from 'zod'
import { meta } from '../../meta'
import { seedParam } from '../../shared/seed'
import { curvePoints } from '../../shared/curve-along'
import { maskOf } from '../../shared/mask-fields'

const amount = (title: string, unit: string, most: number, step: number, extra: { advanced?: boolean; description?: string } = {}) =>
  z
    .number(`${title} must be a number.`)
    .min(-most)
    .max(most)
    .default(0)
    .meta(meta({ title, unit, step, ...extra }))

const finite = z.number('It must be a number.').min(-10_000).max(10_000)

const BY_CURVE = { field: 'by', is: ['order', 'mask', 'distance', 'letters'] } as const

export const varyParams = z.object({
  by: z
    .enum(['lot', 'order', 'letters', 'distance', 'mask'])
    .default('lot')
    .meta(meta({ title: 'By', labels: ['Lot', 'Their order', 'Letter after letter', 'Distance from a spot', 'A mask'] })),
  seed: seedParam({ when: { field: 'by', is: ['lot'] } }),
  per: z
    .enum(['copy', 'letter'])
    .default('copy')
    .meta(
      meta({
        title: 'Each its own',
        labels: ['Copy', 'Letter'],
        when: { field: 'by', is: ['lot', 'order'] },
        description: 'Copies of one letter may all take the same, or the order begins anew in each.',
      }),
    ),
  point: z
    .tuple([finite, finite, finite])
    .nullable()
    .default(null)
    .meta(meta({ title: 'Spot', holds: 'spot on the piece', when: { field: 'by', is: ['distance'] } })),
  far: z
    .number('The distance must be a number.')
    .min(0.01, 'The distance must be at least 0.01 mm.')
    .max(10_000)
    .default(100)
    .meta(meta({ title: 'Whole at a distance of', unit: 'mm', step: 5, when: { field: 'by', is: ['distance'] } })),
  mask: maskOf().meta(meta({ title: 'Mask', holds: 'mask', when: { field: 'by', is: ['mask'] } })),
  curve: curvePoints('The course', -100, 100)
    .default([
      [0, 0],
      [1, 100],
    ])
    .meta(
      meta({
        title: 'Course',
        unit: '%',
        step: 5,
        holds: 'curve',
        most: 100,
        when: BY_CURVE,
        description: 'How much of it is taken, from the first to the last.',
      }),
    ),
  size: amount('Size', '%', 500, 5, { description: 'Larger or smaller by so much.' }),
  turn: amount('Turn', '°', 3600, 5, { description: 'About its own axis.' }),
  lean: amount('Lean', '°', 180, 5),
  right: amount('To the side', 'mm', 1000, 0.5),
  up: amount('Up', 'mm', 1000, 0.5),
  forward: amount('Off the ground', 'mm', 1000, 0.5),
  colours: z
    .array(z.string().regex(/^#[0-9a-f]{6}$/, 'A colour is written #rrggbb.'))
    .max(24, 'At most 24 colours.')
    .default([])
    .meta(meta({ title: 'Colours', holds: 'colours' })),
})
