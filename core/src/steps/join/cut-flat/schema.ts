import { z } from 'zod'
import { meta } from '../../meta'
import { millimetres } from '../../shared/lengths'

export const AXES = ['across', 'up', 'forward'] as const

const degrees = z
  .number('The angle must be a number.')
  .min(-80, 'A cut can be turned by 80° at most.')
  .max(80, 'A cut can be turned by 80° at most.')
  .default(0)

export const cutFlatParams = z.object({
  axis: z
    .enum(AXES)
    .default('up')
    .meta(meta({ title: 'Cut', labels: ['Left from right', 'Top from foot', 'Front from back'] })),
  at: millimetres('The place of the cut', -100_000, 100_000)
    .default(0)
    .meta(meta({ title: 'Off the middle', unit: 'mm', step: 1, description: 'Of the cut from the middle of the piece.' })),
  keep: z
    .enum(['first', 'second', 'both'])
    .default('both')
    .meta(meta({ title: 'Keep', labels: ['Left, foot or back', 'Right, top or front', 'Both, parted'] })),
  gap: millimetres('The gap', 0.02, 1000)
    .default(1)
    .meta(meta({ title: 'Gap', unit: 'mm', step: 0.5, when: { field: 'keep', is: ['both'] } })),
  tilt: degrees.meta(
    meta({ title: 'Tilt', unit: '°', step: 5, description: 'Of the cut, about the first of the two directions that lie in it.', advanced: true }),
  ),
  lean: degrees.meta(meta({ title: 'Lean', unit: '°', step: 5, description: 'About the second of them.', advanced: true })),
  pegs: z
    .number('The number of pegs must be a number.')
    .int('Pegs are counted whole.')
    .min(0)
    .max(12)
    .default(0)
    .meta(meta({ title: 'Pegs', step: 1, description: 'On the first side, with sockets for them in the second.', when: { field: 'keep', is: ['both'] } })),
  pegWidth: millimetres('The width of the pegs', 0.5, 200)
    .default(5)
    .meta(meta({ title: 'Peg width', unit: 'mm', step: 0.5, advanced: true, when: { field: 'keep', is: ['both'] } })),
  pegLength: millimetres('The length of the pegs', 0.5, 200)
    .default(6)
    .meta(meta({ title: 'Peg length', unit: 'mm', step: 0.5, advanced: true, when: { field: 'keep', is: ['both'] } })),
  pegClearance: millimetres('The clearance of the pegs', 0.02, 10)
    .default(0.15)
    .meta(
      meta({
        title: 'Peg clearance',
        unit: 'mm',
        step: 0.05,
        description: 'All round, and beyond their ends.',
        advanced: true,
        when: { field: 'keep', is: ['both'] },
      }),
    ),
})
