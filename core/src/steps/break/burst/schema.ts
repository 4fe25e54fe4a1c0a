import { z } from 'zod'
import { BURST_FROM } from '../../../break/burst-from'
import { APART_BY } from '../../../repeat/apart-by'
import { meta } from '../../meta'
import { maskOf } from '../../shared/mask-fields'
import { seedParam } from '../../shared/seed'

const coordinate = z.number('It must be a number.').min(-10_000).max(10_000)

const angle = (title: string, description: string) =>
  z
    .number(`${title} must be a number.`)
    .min(-360)
    .max(360)
    .default(0)
    .meta(meta({ title, unit: '°', step: 5, description, when: { field: 'from', is: ['line', 'way'] } }))

export const burstParams = z.object({
  strength: z
    .number('The strength must be a number.')
    .min(-100, 'The strength goes from −100 to 500 %.')
    .max(500, 'The strength goes from −100 to 500 %.')
    .default(50)
    .meta(
      meta({
        title: 'Strength',
        unit: '%',
        step: 5,
        strengths: [10, 25, 50, 100, 200],
        description: '0: all stand where they belong; below 0 they are drawn together. Key it.',
      }),
    ),
  by: z
    .enum(APART_BY)
    .default('copy')
    .meta(meta({ title: 'Each', labels: ['Letter', 'Word', 'Line', 'Shard or copy', 'Connected part'] })),
  from: z
    .enum(BURST_FROM)
    .default('spot')
    .meta(meta({ title: 'Away', labels: ['From a spot', 'From a line', 'One way', 'Every which way'] })),
  point: z
    .tuple([coordinate, coordinate, coordinate])
    .nullable()
    .default(null)
    .meta(
      meta({
        title: 'Spot',
        holds: 'spot on the piece',
        when: { field: 'from', is: ['spot', 'line'] },
        description: 'In the middle of everything when none is picked.',
      }),
    ),
  angle: angle('Direction', 'In the plane of the face; 0 runs to the right, 90 up.'),
  tilt: angle('Forward', '90 looks straight out of the face.'),
  far: z
    .number('The distance must be a number.')
    .min(0)
    .max(10_000)
    .default(40)
    .meta(meta({ title: 'How far at 100 %', unit: 'mm', step: 5 })),
  turn: z
    .number('The turn must be a number.')
    .min(0)
    .max(3600)
    .default(90)
    .meta(meta({ title: 'Turned at 100 %', unit: '°', step: 15, description: 'At most, about each axis, by lot.' })),
  uneven: z
    .number('It must be a number.')
    .min(0, 'It goes from 0 to 100 %.')
    .max(100, 'It goes from 0 to 100 %.')
    .default(40)
    .meta(meta({ title: 'Uneven', unit: '%', step: 5, description: 'Some fly further than others, by lot.' })),
  reach: z
    .number('The distance must be a number.')
    .min(0)
    .max(10_000)
    .default(0)
    .meta(
      meta({
        title: 'Half as far at',
        unit: 'mm',
        step: 5,
        when: { field: 'from', is: ['spot', 'line'] },
        description: 'From the spot or the line; 0: as far everywhere.',
      }),
    ),
  delay: z
    .number('The delay must be a number.')
    .min(0)
    .max(500)
    .default(0)
    .meta(meta({ title: 'Delay by a mask', unit: '%', step: 5, description: 'So much strength passes before it begins where the mask is 0.' })),
  mask: maskOf().meta(meta({ title: 'Mask', holds: 'mask' })),
  seed: seedParam(),
})

export const WORDS = { letter: 'letters', word: 'words', line: 'lines', copy: 'pieces', part: 'parts' } as const
