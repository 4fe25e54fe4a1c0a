import { z } from 'zod'
import { gridCount, gridSpots } from '../../../repeat/patterns'
import { asAssembly } from '../../../repeat/assemble'
import { assemblyBounds } from '../../../solid/assembly'
import { meta, plain } from '../../meta'
import { byHandParam, countOf, repeatInStep, tooManyCopies } from '../../shared/repeating'
import { defineStep, failed } from '../../step'

const gap = (title: string) =>
  z
    .number('A gap must be a number.')
    .min(-5000)
    .max(5000)
    .meta(meta({ title, unit: 'mm', step: 0.5 }))

const gridParams = z.object({
  across: countOf('The number across')
    .default(3)
    .meta(meta({ title: 'Across', step: 1 })),
  down: countOf('The number down')
    .default(3)
    .meta(meta({ title: 'Down', step: 1 })),
  deep: countOf('The number of layers')
    .default(1)
    .meta(meta({ title: 'Deep', step: 1 })),
  gap: gap('Gap')
    .default(5)
    .meta(meta({ title: 'Gap', unit: 'mm', step: 0.5, pull: 'right', description: 'Free between one copy and the next; below nought they overlap.' })),
  gaps: z
    .enum(['alike', 'each'])
    .default('alike')
    .meta(meta({ title: 'Gaps', labels: ['Alike', 'Each its own'] })),
  gapDown: gap('Gap down')
    .default(5)
    .meta(meta({ title: 'Gap down', unit: 'mm', step: 0.5, when: { field: 'gaps', is: ['each'] } })),
  gapDeep: gap('Gap between layers')
    .default(5)
    .meta(meta({ title: 'Gap between layers', unit: 'mm', step: 0.5, when: { field: 'gaps', is: ['each'] } })),
  rows: z
    .enum(['straight', 'bricks', 'staggered'])
    .default('straight')
    .meta(meta({ title: 'Rows', labels: ['Straight', 'As bricks', 'Staggered'], description: 'Staggered rows have one copy less where they are moved.' })),
  from: z
    .enum(['middle', 'first'])
    .default('middle')
    .meta(meta({ title: 'Stays in place', labels: ['The middle', 'The first'] })),
  hand: byHandParam,
})

export const grid = defineStep({
  kind: 'grid',
  version: 1,
  family: 'Repeat',
  title: 'Grid',
  summary: 'Copies in columns, rows and layers with equal gaps: straight, as bricks, or staggered.',
  takes: ['solid', 'assembly'],
  gives: 'assembly',
  params: gridParams,
  describe: ({ across, down, deep, gap, rows }) =>
    `${across} × ${down}${deep > 1 ? ` × ${deep}` : ''}, ${plain(gap)} mm apart${rows === 'straight' ? '' : rows === 'bricks' ? ', as bricks' : ', staggered'}`,
  async evaluate(input, params) {
    if (!input || input.kind === 'outline') return failed('no-solid', 'Grid needs a solid to repeat.', 'Put a form such as Extrude before it.')
    const { gap, gaps, gapDown, gapDeep, hand } = params
    const many = tooManyCopies(gridCount(params), 'across')
    if (many) return many
    const unit = asAssembly(input)
    const [x0, y0, z0, x1, y1, z1] = assemblyBounds(unit)
    if (!Number.isFinite(x0)) return failed('empty', 'There is nothing to repeat.', 'Put something before this step.')
    const step = [x1 - x0 + gap, y1 - y0 + (gaps === 'alike' ? gap : gapDown), z1 - z0 + (gaps === 'alike' ? gap : gapDeep)] as const
    return repeatInStep({ unit, spots: gridSpots({ ...params, step }), hand, reach: 0.5 })
  },
})
