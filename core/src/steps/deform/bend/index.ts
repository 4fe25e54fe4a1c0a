import { z } from 'zod'
import { meta, plain } from '../../meta'
import { extentFields, extentOf, extentShares, lengthOf, percentOf } from '../../shared/axes'
import { deformFields, deformInStep } from '../../shared/deforming'
import { defineStep } from '../../step'

const WAYS = ['arch', 'back', 'roll'] as const

const bendParams = z.object({
  way: z
    .enum(WAYS)
    .default('arch')
    .meta(meta({ title: 'Way', labels: ['Into an arch', 'Away to the back', 'Top to the back'] })),
  by: z
    .enum(['angle', 'radius'])
    .default('angle')
    .meta(meta({ title: 'By', labels: ['Angle', 'Radius'] })),
  angle: z
    .number('The angle must be a number.')
    .min(-720, 'The angle is at least −720°.')
    .max(720, 'The angle is at most 720°.')
    .default(60)
    .meta(
      meta({
        title: 'Angle',
        unit: '°',
        step: 5,
        pull: 'up',
        pullBy: 3,
        strengths: [30, 60, 120, 180, 300],
        description: '360° closes a ring. Below nought it bends the other way.',
        when: { field: 'by', is: ['angle'] },
      }),
    ),
  radius: z
    .number('The radius must be a number.')
    .min(-100_000)
    .max(100_000)
    .refine((radius) => Math.abs(radius) >= 0.1, 'The radius must be at least 0.1 mm either way.')
    .default(100)
    .meta(meta({ title: 'Radius', unit: 'mm', step: 5, when: { field: 'by', is: ['radius'] } })),
  centre: percentOf('The centre', -500, 600)
    .default(50)
    .meta(meta({ title: 'Centre', unit: '%', step: 5, description: 'What of the length stays where it is.' })),
  neutral: percentOf('The neutral line', -1000, 1000)
    .default(0)
    .meta(meta({ title: 'Neutral line', unit: '%', step: 10, description: 'Of the height, or depth, across the bend: there lengths stay as they are.' })),
  ...extentFields,
  ...deformFields,
})

/** along, towards, and the sign of a positive angle */
const AXES: Record<(typeof WAYS)[number], { readonly along: 0 | 1; readonly towards: 1 | 2; readonly sign: 1 | -1 }> = {
  // the middle is the arch's top
  arch: { along: 0, towards: 1, sign: -1 },
  back: { along: 0, towards: 2, sign: -1 },
  roll: { along: 1, towards: 2, sign: -1 },
}

export const bend = defineStep({
  kind: 'bend',
  version: 1,
  family: 'Deform',
  title: 'Bend',
  summary: 'Bends the piece into an arch, a curve or a full ring; lengths stay on a line of your choice.',
  takes: ['solid'],
  gives: 'solid',
  params: bendParams,
  describe: ({ by, angle, radius, way }) => `${by === 'angle' ? `${plain(angle)}°` : `Radius ${plain(radius)} mm`}, ${WORDS[way]}`,
  evaluate: (input, params, context) => {
    const { along, towards, sign } = AXES[params.way]
    const { by, angle, radius, centre, neutral, from, to } = params
    return deformInStep(input, context, {
      title: 'Bend',
      params,
      main:
        by === 'angle'
          ? { field: 'angle', value: angle, unit: '°' }
          : { field: 'radius', value: radius, unit: ' mm', at: (share) => (Math.sign(radius) * Math.ceil(Math.abs(radius / share) * 10)) / 10 },
      shares: [{ field: 'centre', title: 'Centre', value: centre, axis: along }, ...extentShares(params, along)],
      by: (box, share) => {
        const extent = extentOf(box, along, from, to)
        const length = extent.to - extent.from
        const curvature = by === 'angle' ? (length > 0 ? (angle * Math.PI) / 180 / length : 0) : 1 / radius
        if (curvature === 0) return undefined
        return {
          kind: 'bend',
          along,
          towards,
          extent,
          middle: box[along] + (lengthOf(box, along) * centre) / 100,
          neutral: box[towards] + (lengthOf(box, towards) * neutral) / 100,
          curvature: sign * share * curvature,
        }
      },
    })
  },
})

const WORDS: Record<(typeof WAYS)[number], string> = { arch: 'into an arch', back: 'away to the back', roll: 'top to the back' }
