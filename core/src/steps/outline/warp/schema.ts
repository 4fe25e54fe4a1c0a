import { z } from 'zod'
import { nodePath } from '../../../outline/node-path'
import { meta } from '../../meta'

/** shares of the box about the outline: 0, 0 is its lower left, 1, 1 its upper right */
const share = z.number('A corner must have two numbers.').min(-10).max(11)

export const warpParams = z.object({
  shape: z
    .enum(['arch', 'ripple', 'swell', 'perspective', 'corners', 'envelope'])
    .default('arch')
    .meta(meta({ title: 'Shape', labels: ['Arch', 'Ripple', 'Swell in the middle', 'Perspective', 'By four corners', 'Between two lines'] })),
  angle: z
    .number('The angle must be a number.')
    .min(-350, 'An arch can turn by 350° at most.')
    .max(350, 'An arch can turn by 350° at most.')
    .default(60)
    .meta(meta({ title: 'Turns by', unit: '°', step: 5, when: { field: 'shape', is: ['arch'] } })),
  amount: z
    .number('The amount must be a number.')
    .min(-90, 'The amount lies between −90 and 300 %.')
    .max(300, 'The amount lies between −90 and 300 %.')
    .default(30)
    .meta(meta({ title: 'Amount', unit: '%', step: 5, description: 'Of the height.', when: { field: 'shape', is: ['ripple', 'swell', 'perspective'] } })),
  waves: z
    .number('The number of waves must be a number.')
    .min(0.25)
    .max(40)
    .default(2)
    .meta(meta({ title: 'Waves', step: 0.25, when: { field: 'shape', is: ['ripple'] } })),
  corners: z
    .array(z.tuple([share, share]))
    .length(4, 'There are four corners.')
    .default([
      [0, 0],
      [1, 0],
      [0.85, 1],
      [0.15, 1],
    ])
    .meta(meta({ title: 'Corners', drawn: true, when: { field: 'shape', is: ['corners'] } })),
  bottom: nodePath
    .default({
      closed: false,
      nodes: [
        { x: 0, y: 0 },
        { x: 1, y: 0 },
      ],
    })
    .meta(meta({ title: 'Lower line', drawn: true, when: { field: 'shape', is: ['envelope'] } })),
  top: nodePath
    .default({
      closed: false,
      nodes: [
        { x: 0, y: 0.75, out: [0.25, 0.1] },
        { x: 0.5, y: 1.25, in: [-0.2, 0], out: [0.2, 0], kind: 'symmetric' },
        { x: 1, y: 0.75, in: [-0.25, 0.1] },
      ],
    })
    .meta(meta({ title: 'Upper line', indirect: true })),
})
