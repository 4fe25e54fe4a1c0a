import { z } from 'zod'
import { AXES, axisNumber } from '../../../deform/space-map'
import { meta, plain } from '../../meta'
import { extentFields, extentOf, extentShares, middleOf } from '../../shared/axes'
import { deformFields, deformInStep } from '../../shared/deforming'
import { defineStep } from '../../step'

const twistParams = z.object({
  angle: z
    .number('The angle must be a number.')
    .min(-3600, 'The angle is at least −3,600°.')
    .max(3600, 'The angle is at most 3,600°.')
    .default(90)
    .meta(meta({ title: 'Angle', unit: '°', step: 5, pull: 'right', pullBy: 2, strengths: [15, 45, 90, 180, 360], description: 'From one end to the other.' })),
  axis: z
    .enum(AXES)
    .default('along')
    .meta(meta({ title: 'About', labels: ['The length', 'The upright', 'The depth'] })),
  held: z
    .enum(['start', 'middle', 'end'])
    .default('middle')
    .meta(meta({ title: 'Held at', labels: ['Start', 'Middle', 'End'] })),
  ...extentFields,
  ...deformFields,
})

export const twist = defineStep({
  kind: 'twist',
  version: 1,
  family: 'Deform',
  title: 'Twist',
  summary: 'Turns the piece about an axis, more and more from one end to the other.',
  takes: ['solid'],
  gives: 'solid',
  params: twistParams,
  describe: ({ angle, axis }) => `${plain(angle)}° about the ${{ along: 'length', up: 'upright', forward: 'depth' }[axis]}`,
  evaluate: (input, params, context) => {
    const { angle, axis, held, from, to } = params
    const about = axisNumber(axis)
    return deformInStep(input, context, {
      title: 'Twist',
      params,
      main: { field: 'angle', value: angle, unit: '°' },
      shares: extentShares(params, about),
      by: (box, share) => {
        if (angle === 0) return undefined
        const middle = middleOf(box)
        const start = held === 'start' ? 0 : held === 'end' ? -angle * share : (-angle * share) / 2
        const [i, j] = [0, 1, 2].filter((k) => k !== about)
        return { kind: 'twist', about, extent: extentOf(box, about, from, to), centre: [middle[i], middle[j]], start, end: start + angle * share }
      },
    })
  },
})
