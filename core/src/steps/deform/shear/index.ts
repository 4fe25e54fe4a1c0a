import { z } from 'zod'
import { meta, plain } from '../../meta'
import { deformFields, deformInStep } from '../../shared/deforming'
import { defineStep } from '../../step'

const WAYS = ['slant', 'rise', 'right', 'up', 'lean', 'swing'] as const

/** what is moved, and by what */
const AXES: Record<(typeof WAYS)[number], readonly [0 | 1 | 2, 0 | 1 | 2]> = {
  slant: [0, 1],
  rise: [1, 0],
  right: [0, 2],
  up: [1, 2],
  lean: [2, 1],
  swing: [2, 0],
}

const WORDS: Record<(typeof WAYS)[number], string> = {
  slant: 'slanted',
  rise: 'rising',
  right: 'front to the right',
  up: 'front upwards',
  lean: 'top forwards',
  swing: 'end forwards',
}

const shearParams = z.object({
  angle: z
    .number('The angle must be a number.')
    .min(-85, 'The angle is at least −85°.')
    .max(85, 'The angle is at most 85°.')
    .default(15)
    .meta(meta({ title: 'Angle', unit: '°', step: 1, pull: 'right', pullBy: 1, strengths: [-20, 8, 15, 25, 40] })),
  way: z
    .enum(WAYS)
    .default('slant')
    .meta(meta({ title: 'Way', labels: ['Slanted', 'Rising', 'Front to the right', 'Front upwards', 'Top forwards', 'End forwards'] })),
  held: z
    .enum(['start', 'middle', 'end'])
    .default('start')
    .meta(meta({ title: 'Held at', labels: ['Start', 'Middle', 'End'], description: 'The foot, the near end or the back, or what lies over against it.' })),
  ...deformFields,
})

export const shear = defineStep({
  kind: 'shear',
  version: 1,
  family: 'Deform',
  title: 'Shear',
  summary: 'Slants the piece: every level is moved further than the one below it.',
  takes: ['solid'],
  gives: 'solid',
  params: shearParams,
  describe: ({ angle, way }) => `${plain(angle)}°, ${WORDS[way]}`,
  evaluate: (input, params, context) => {
    const { angle, way, held } = params
    const [moved, by] = AXES[way]
    return deformInStep(input, context, {
      title: 'Shear',
      params,
      main: { field: 'angle', value: angle, unit: '°' },
      by: (box, share) =>
        angle === 0
          ? undefined
          : {
              kind: 'shear',
              moved,
              by,
              level: held === 'start' ? box[by] : held === 'end' ? box[by + 3] : (box[by] + box[by + 3]) / 2,
              slope: Math.tan((share * angle * Math.PI) / 180),
            },
    })
  },
})
