import { z } from 'zod'
import { meta } from '../../meta'
import { byHandParam, countOf } from '../../shared/repeat-fields'

export const gap = (title: string) =>
  z
    .number('A gap must be a number.')
    .min(-5000)
    .max(5000)
    .meta(meta({ title, unit: 'mm', step: 0.5 }))

export const gridParams = z.object({
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
