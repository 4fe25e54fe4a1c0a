import { z } from 'zod'
import type { Box } from '../../../deform/units'
import { meta } from '../../meta'
import { lengthOf } from '../../shared/axes'
import { deformFields, deformInStep } from '../../shared/deforming'
import { defineStep, type StepIssue, type StepMarks } from '../../step'

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

export const cagePoint = z.object({
  /** its column, row and layer, from the left, the bottom and the back */
  at: z.tuple([index, index, index]),
  /** to the right, up and forward, % of the piece's size that way; forward % of its height, so that thin pieces can be drawn out as well */
  by: z.tuple([share, share, share]),
})
export type CagePoint = z.infer<typeof cagePoint>

const freeCageParams = z.object({
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

type Params = z.infer<typeof freeCageParams>

export const freeCage = defineStep({
  kind: 'free-cage',
  version: 1,
  family: 'Deform',
  title: 'Free cage',
  summary: 'Puts a cage of points about the piece; pull them in the view, and the piece follows.',
  takes: ['solid'],
  gives: 'solid',
  params: freeCageParams,
  describe: ({ across, up, deep, moved }) => `${across} × ${up} × ${deep} points, ${moved.length === 0 ? 'none' : moved.length} moved`,
  evaluate: (input, params, context) => {
    const counts = [params.across, params.up, params.deep] as const
    const within = params.moved.filter(({ at }) => at.every((n, k) => n < counts[k]))
    const more: StepIssue[] = []
    if (within.length < params.moved.length)
      more.push({
        code: 'points-aside',
        severity: 'warning',
        message: `${params.moved.length - within.length} moved point${params.moved.length - within.length === 1 ? ' is' : 's are'} not in the cage any more and set aside.`,
        remedy: 'Give the cage more points again, or put them back.',
        field: 'moved',
      })
    return deformInStep(input, context, {
      title: 'Free cage',
      params,
      more,
      main: { field: 'strength', value: params.strength, unit: ' %' },
      marks: (box) => marksOf(box, counts, within, params.strength / 100),
      by: (box, amount) =>
        within.length === 0
          ? undefined
          : {
              kind: 'cage',
              box,
              counts,
              moved: within.map(({ at, by }) => ({ at, by: inMm(box, by).map((v) => amount * v) as [number, number, number] })),
            },
    })
  },
})

/** mm for each percent, to the right, up and forward. */
const scaleOf = (box: Box): [number, number, number] => [lengthOf(box, 0) / 100, lengthOf(box, 1) / 100, lengthOf(box, 1) / 100]
const inMm = (box: Box, by: CagePoint['by']): number[] => scaleOf(box).map((scale, k) => scale * by[k])

function marksOf(box: Box, counts: readonly [number, number, number], moved: Params['moved'], strength: number): StepMarks {
  const scale = scaleOf(box)
  const place = (at: readonly number[]): [number, number, number] => {
    const by = moved.find((point) => point.at.every((n, k) => n === at[k]))?.by ?? [0, 0, 0]
    return [0, 1, 2].map((k) => box[k] + (lengthOf(box, k as 0) * at[k]) / (counts[k] - 1) + strength * scale[k] * by[k]) as [number, number, number]
  }
  const all: [number, number, number][] = []
  for (let k = 0; k < counts[2]; k++) for (let j = 0; j < counts[1]; j++) for (let i = 0; i < counts[0]; i++) all.push([i, j, k])
  return {
    knobs: all.map((at) => ({
      name: `cage-${at.join('-')}`,
      title: `Point ${at.map((n) => n + 1).join(', ')}`,
      at: place(at),
      free: {
        field: 'moved',
        at,
        value: moved.find((point) => point.at.every((n, k) => n === at[k]))?.by ?? [0, 0, 0],
        perMm: scale.map((mm) => (mm > 0 && strength > 0 ? 1 / mm / strength : 0)) as [number, number, number],
        step: 1,
      },
    })),
    lines: all.flatMap((at) =>
      [0, 1, 2].flatMap((axis) => {
        if (at[axis] + 1 >= counts[axis]) return []
        const next = [...at]
        next[axis]++
        return [[place(at), place(next)]]
      }),
    ),
  }
}
