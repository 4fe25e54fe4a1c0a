import { z } from 'zod'
import { AXES, axisNumber } from '../../../deform/space-map'
import { meta, plain } from '../../meta'
import { extentFields, extentOf, extentShares, lengthOf, middleOf } from '../../shared/axes'
import { curvePoints } from '../../shared/curve-along'
import { deformFields, deformInStep } from '../../shared/deforming'
import { defineStep } from '../../step'

const sized = (title: string, on: boolean) => z.boolean().default(on).meta(meta({ title }))

const taperParams = z.object({
  amount: z
    .number('The amount must be a number.')
    .min(-400, 'It grows to five times its size at most.')
    .max(99, 'At most 99 % is taken away: something must be left.')
    .default(40)
    .meta(
      meta({
        title: 'Amount',
        unit: '%',
        step: 5,
        tried: true,
        most: 99,
        strengths: [15, 30, 50, 70, 90],
        description: 'How much smaller one end becomes; below nought it grows.',
      }),
    ),
  axis: z
    .enum(AXES)
    .default('along')
    .meta(meta({ title: 'Goes', labels: ['Along the length', 'Upwards', 'Forwards'] })),
  end: z
    .enum(['far', 'near', 'both'])
    .default('far')
    .meta(meta({ title: 'Smaller', labels: ['At the far end', 'At the near end', 'At both ends'] })),
  about: z
    .enum(['middle', 'foot'])
    .default('middle')
    .meta(meta({ title: 'Towards', labels: ['The middle', 'The foot and the back'] })),
  width: sized('Width becomes smaller', true),
  height: sized('Height becomes smaller', true),
  depth: sized('Depth becomes smaller', false),
  curve: curvePoints('The taper', 0, 100)
    .default([
      [0, 0],
      [1, 100],
    ])
    .meta(meta({ title: 'Taper', unit: '%', step: 5, holds: 'curve along', most: 100, advanced: true })),
  ...extentFields,
  ...deformFields,
})

export const taper = defineStep({
  kind: 'taper',
  version: 1,
  family: 'Deform',
  title: 'Taper',
  summary: 'Makes the piece smaller towards one end; width, height and depth each by itself.',
  takes: ['solid'],
  gives: 'solid',
  params: taperParams,
  describe: ({ amount, axis, width, height, depth }) =>
    `${plain(amount)} % ${{ along: 'along the length', up: 'upwards', forward: 'forwards' }[axis]}: ${
      [axis !== 'along' && width && 'width', axis !== 'up' && height && 'height', axis !== 'forward' && depth && 'depth'].filter(Boolean).join(', ') ||
      'nothing sized'
    }`,
  evaluate: (input, params, context) => {
    const { amount, axis, end, about, width, height, depth, curve, from, to } = params
    const along = axisNumber(axis)
    const points = curve.length > 0 ? curve : [[0, 0] as [number, number], [1, 100] as [number, number]]
    return deformInStep(input, context, {
      title: 'Taper',
      params,
      main: { field: 'amount', value: amount, unit: ' %' },
      shares: extentShares(params, along),
      by: (box, share) => {
        if (amount === 0) return undefined
        const size = (t: number) => 1 - (share * amount * t) / 10_000
        const far = points.map(([t, v]) => [t, size(v)] as [number, number])
        const near = far.map(([t, v]) => [1 - t, v] as [number, number]).reverse()
        // from the middle to both ends, each half of the way
        const both = [...near.map(([t, v]) => [t / 2, v] as [number, number]), ...far.map(([t, v]) => [0.5 + t / 2, v] as [number, number])]
        const ends = both.filter(([t], i) => i === 0 || t > both[i - 1][0])
        const middle = middleOf(box)
        return {
          kind: 'taper',
          along,
          extent: extentOf(box, along, from, to),
          centre: about === 'middle' || lengthOf(box, 0) === 0 ? middle : [middle[0], box[1], box[2]],
          sized: [width && along !== 0, height && along !== 1, depth && along !== 2],
          curve: end === 'far' ? far : end === 'near' ? near : ends,
        }
      },
    })
  },
})
