import { z } from 'zod'
import { rowSpots } from '../../../repeat/patterns'
import { asAssembly } from '../../../repeat/assemble'
import { assemblyBounds } from '../../../solid/assembly'
import { meta, plain } from '../../meta'
import { millimetres } from '../../shared/lengths'
import { byHandParam, countOf, repeatInStep } from '../../shared/repeating'
import { defineStep, failed } from '../../step'

const WAYS = { right: 'to the right', down: 'downwards', up: 'upwards', back: 'to the back', forward: 'forward' } as const

const rowParams = z.object({
  count: countOf('The number')
    .default(5)
    .meta(meta({ title: 'How many', step: 1 })),
  way: z
    .enum(['right', 'down', 'up', 'back', 'forward'])
    .default('right')
    .meta(meta({ title: 'Towards', labels: ['The right', 'Downwards', 'Upwards', 'The back', 'The viewer'] })),
  by: z
    .enum(['gap', 'pitch', 'over'])
    .default('gap')
    .meta(meta({ title: 'Spaced by', labels: ['A gap between them', 'From one to the next', 'The whole length'] })),
  gap: z
    .number('The gap must be a number.')
    .min(-5000)
    .max(5000)
    .default(5)
    .meta(meta({ title: 'Gap', unit: 'mm', step: 0.5, when: { field: 'by', is: ['gap'] } })),
  pitch: millimetres('The distance', 0.01, 10_000)
    .default(20)
    .meta(meta({ title: 'From one to the next', unit: 'mm', step: 1, when: { field: 'by', is: ['pitch'] } })),
  length: millimetres('The length', 0.01, 100_000)
    .default(200)
    .meta(
      meta({
        title: 'Whole length',
        unit: 'mm',
        step: 5,
        when: { field: 'by', is: ['over'] },
        description: 'From the beginning of the first to the end of the last.',
      }),
    ),
  aside: z
    .number('It must be a number.')
    .min(-1000)
    .max(1000)
    .default(0)
    .meta(meta({ title: 'Each further aside', unit: 'mm', step: 0.5, description: 'Steps of stairs: up for rows to the side, to the right for others.' })),
  turn: z
    .number('The turn must be a number.')
    .min(-360)
    .max(360)
    .default(0)
    .meta(meta({ title: 'Each further turned', unit: '°', step: 5 })),
  from: z
    .enum(['first', 'middle'])
    .default('first')
    .meta(meta({ title: 'Stays in place', labels: ['The first', 'The middle'] })),
  hand: byHandParam,
})

export const row = defineStep({
  kind: 'row',
  version: 1,
  family: 'Repeat',
  title: 'Row',
  summary: 'Copies in a row or a flight of stairs, by equal gaps, by a distance, or over a length.',
  takes: ['solid', 'assembly'],
  gives: 'assembly',
  params: rowParams,
  describe: ({ count, way, by, gap, pitch, length }) =>
    `${count} ${WAYS[way]}, ${by === 'gap' ? `${plain(gap)} mm apart` : by === 'pitch' ? `every ${plain(pitch)} mm` : `over ${plain(length)} mm`}`,
  async evaluate(input, { count, way, by, gap, pitch, length, aside, turn, from, hand }) {
    if (!input || input.kind === 'outline') return failed('no-solid', 'Row needs a solid to repeat.', 'Put a form such as Extrude before it.')
    const unit = asAssembly(input)
    const box = assemblyBounds(unit)
    if (!Number.isFinite(box[0])) return failed('empty', 'There is nothing to repeat.', 'Put something before this step.')
    const k = way === 'right' ? 0 : way === 'up' || way === 'down' ? 1 : 2
    const size = box[k + 3] - box[k]
    const over = count > 1 ? (length - size) / (count - 1) : 0
    if (by === 'over' && over <= 0)
      return failed('too-short', `The length is shorter than one copy, ${plain(size)} mm.`, `Give more than ${plain(size)} mm.`, 'length')
    const each = by === 'gap' ? size + gap : by === 'pitch' ? pitch : over
    const step: [number, number, number] = [0, 0, 0]
    step[k] = way === 'down' || way === 'back' ? -each : each
    step[k === 0 ? 1 : 0] = aside
    return repeatInStep({ unit, spots: rowSpots({ count, step, turn, from }), hand, reach: 0.5 })
  },
})
