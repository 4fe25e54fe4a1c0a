import { z } from 'zod'
import { meta } from '../../meta'
import { deformFields } from '../../shared/deform-fields'

const MOST_ACROSS = 8

const MOST_DEEP = 4

const points = (title: string, most: number, fallback: number) =>
  z
    .int(`${title}: points come in whole numbers.`)
    .min(2, `${title}: a cage has at least two points each way.`)
    .max(most, `${title}: a cage has at most ${most} points this way.`)
    .default(fallback)
    .meta(meta({ title, step: 1 }))

const index = z
  .int('A point of the cage is named by whole numbers.')
  .min(0)
  .max(MOST_ACROSS - 1)

const share = z
  .number('A point is moved by a number.')
  .min(-1000, 'A point is moved by ten times the piece’s size at most.')
  .max(1000, 'A point is moved by ten times the piece’s size at most.')

const cagePoint = z.object({
  /** its column, row and layer, from the left, the bottom and the back */
  at: z.tuple([index, index, index]),
  /** to the right, up and forward, % of the piece's size that way; forward % of its height, so that thin pieces can be drawn out as well */
  by: z.tuple([share, share, share]),
})

export type CagePoint = z.infer<typeof cagePoint>

export const freeCageParams = z.object({
  across: points('Columns', MOST_ACROSS, 4),
  up: points('Rows', MOST_ACROSS, 3),
  deep: points('Layers', MOST_DEEP, 2),
  moved: z
    .array(cagePoint)
    .max(MOST_ACROSS * MOST_ACROSS * MOST_DEEP, 'A cage has 256 points at most.')
    .refine((list) => new Set(list.map(({ at }) => at.join())).size === list.length, 'A point of the cage is named twice.')
    .default([])
    .meta(meta({ title: 'Points', holds: 'cage points' })),
  ...deformFields,
})
