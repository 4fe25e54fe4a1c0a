import { z } from 'zod'
import { pieceReference } from '../../../document/piece-reference'
import { meta } from '../../meta'
import { curvePoints } from '../../shared/curve-along'
import { curvesWithin, millimetres } from '../../shared/lengths'

export const SECTIONS = ['round', 'square', 'diamond', 'triangle', 'hexagon', 'half', 'piece'] as const

const BY_VALUES = { field: 'course', is: ['values'] } as const
const BY_CURVES = { field: 'course', is: ['curves'] } as const

const share = (title: string, fallback: number, description?: string) =>
  z
    .number(`${title} must be a number.`)
    .min(0)
    .max(400, 'A section grows to four times its size at most.')
    .default(fallback)
    .meta(meta({ title, unit: '%', step: 5, when: BY_VALUES, ...(description ? { description } : {}) }))

export const sweepParams = z.object({
  section: z
    .enum(SECTIONS)
    .default('round')
    .meta(meta({ title: 'Section', labels: ['Round', 'Square', 'Diamond', 'Triangle', 'Hexagon', 'Half round', 'Of a piece'] })),
  other: pieceReference.default({ piece: '' }).meta(meta({ title: 'Section', input: ['outline'], when: { field: 'section', is: ['piece'] } })),
  width: millimetres('The width', 0.1, 500)
    .default(6)
    .meta(meta({ title: 'Width', unit: 'mm', step: 0.5, pull: 'right', pullBy: 2 })),
  height: millimetres('The height', 0.1, 500)
    .default(6)
    .meta(meta({ title: 'Height', unit: 'mm', step: 0.5, pull: 'forward', pullBy: 'scale' })),
  along: z
    .enum(['strokes', 'outlines', 'both'])
    .default('strokes')
    .meta(meta({ title: 'Along', labels: ['Strokes', 'Outlines', 'Both'] })),
  course: z
    .enum(['values', 'curves'])
    .default('values')
    .meta(meta({ title: 'Changes', labels: ['By values', 'By curves'], description: 'How size, turn and shift go along the length.' })),
  sizeCurve: curvePoints('The size', 0, 400)
    .default([
      [0, 100],
      [1, 100],
    ])
    .meta(meta({ title: 'Size', unit: '%', step: 5, holds: 'curve along', most: 200, when: BY_CURVES })),
  turnCurve: curvePoints('The turn', -3600, 3600)
    .default([
      [0, 0],
      [1, 0],
    ])
    .meta(meta({ title: 'Turn', unit: '°', step: 5, holds: 'curve along', most: 180, when: BY_CURVES })),
  shiftCurve: curvePoints('The shift', -500, 500)
    .default([
      [0, 0],
      [1, 0],
    ])
    .meta(meta({ title: 'Shift', unit: 'mm', step: 0.5, holds: 'curve along', most: 20, when: BY_CURVES })),
  sizeStart: share('Size at the start', 100, 'Of the section; 0 comes to a point.'),
  sizeMiddle: share('Size midway', 100),
  sizeEnd: share('Size at the end', 100),
  turnStart: z
    .number('The turn must be a number.')
    .min(-3600)
    .max(3600)
    .default(0)
    .meta(meta({ title: 'Turn at the start', unit: '°', step: 5, when: BY_VALUES })),
  turnEnd: z
    .number('The turn must be a number.')
    .min(-3600)
    .max(3600)
    .default(0)
    .meta(meta({ title: 'Turn at the end', unit: '°', step: 5, when: BY_VALUES, description: 'The section turns evenly from start to end.' })),
  shiftStart: z
    .number('The shift must be a number.')
    .min(-500)
    .max(500)
    .default(0)
    .meta(meta({ title: 'Shift at the start', unit: 'mm', step: 0.5, when: BY_VALUES, advanced: true, description: 'Sideways, to the left of the line.' })),
  shiftMiddle: z
    .number('The shift must be a number.')
    .min(-500)
    .max(500)
    .default(0)
    .meta(meta({ title: 'Shift midway', unit: 'mm', step: 0.5, when: BY_VALUES, advanced: true })),
  shiftEnd: z
    .number('The shift must be a number.')
    .min(-500)
    .max(500)
    .default(0)
    .meta(meta({ title: 'Shift at the end', unit: 'mm', step: 0.5, when: BY_VALUES, advanced: true })),
  ends: z
    .enum(['flat', 'round', 'pointed'])
    .default('round')
    .meta(meta({ title: 'Ends', labels: ['Flat', 'Round', 'Pointed'] })),
  bend: millimetres('The bend', 0, 500)
    .default(0)
    .meta(meta({ title: 'Corners bent by', unit: 'mm', step: 0.5, description: '0 mitres them.' })),
  crossings: z
    .enum(['united', 'lifted'])
    .default('united')
    .meta(meta({ title: 'Where lines cross', labels: ['United', 'Lifted over'] })),
  tolerance: curvesWithin,
})

export type SweepParams = z.infer<typeof sweepParams>
