import { z } from 'zod'
import type { Box } from '../../deform/units'
import { meta } from '../meta'

/** A share of the piece's own length, %. */
export const percentOf = (what: string, min: number, max: number) =>
  z.number(`${what} must be a number.`).min(min, `${what} is at least ${min} %.`).max(max, `${what} is at most ${max} %.`)

/** Between which shares of the piece's length something acts; beyond them it goes on as it is at its end. */
export const extentFields = {
  from: percentOf('From', -1000, 1000)
    .default(0)
    .meta(meta({ title: 'From', unit: '%', step: 5, advanced: true, description: 'Of the length it acts along; beyond its ends it goes on straight.' })),
  to: percentOf('To', -1000, 1000)
    .default(100)
    .meta(meta({ title: 'To', unit: '%', step: 5, advanced: true })),
}

/** The two of them as places along the piece that are taken in hand. */
export const extentShares = ({ from, to }: { readonly from: number; readonly to: number }, axis: 0 | 1 | 2) => [
  { field: 'from', title: 'From', value: from, axis },
  { field: 'to', title: 'To', value: to, axis },
]

/** The stretch of a box between two shares of its length along an axis, mm. */
export function extentOf(box: Box, axis: 0 | 1 | 2, from: number, to: number): { readonly from: number; readonly to: number } {
  const at = (share: number) => box[axis] + ((box[axis + 3] - box[axis]) * share) / 100
  return { from: at(Math.min(from, to)), to: at(Math.max(from, to)) }
}

export const middleOf = (box: Box): readonly [number, number, number] => [(box[0] + box[3]) / 2, (box[1] + box[4]) / 2, (box[2] + box[5]) / 2]
export const lengthOf = (box: Box, axis: 0 | 1 | 2): number => box[axis + 3] - box[axis]
