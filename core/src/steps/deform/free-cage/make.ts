import type { z } from 'zod'
import type { Box } from '../../../deform/units'
import { lengthOf } from '../../shared/axes'
import { deformInStep } from '../../shared/deforming'
import type { Evaluate, StepIssue, StepMarks } from '../../step'
import type { CagePoint, freeCageParams } from './schema'

export const evaluate: Evaluate<typeof freeCageParams> = (input, params, context) => {
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
}

type Params = z.infer<typeof freeCageParams>

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
