import { z } from 'zod'
import { meta, plain } from '../meta'

const PICKED = ['straight', 'round', 'any']

const WRAPPED = ['round', 'any']

/** Where a step's words lie on its body, and how. */
export const layingFields = {
  lay: z
    .enum(['place', 'straight', 'round', 'any'])
    .default('place')
    .meta(
      meta({
        title: 'Laid',
        labels: ['In front, at their place', 'Straight, from a spot', 'Wrapped round', 'Over the surface'],
        description: 'A cylinder, cone or ball is found by itself and unrolled; any other surface is followed as straight as it goes.',
      }),
    ),
  point: z
    .tuple([z.number(), z.number(), z.number()])
    .nullable()
    .default(null)
    .meta(meta({ title: 'Spot', holds: 'spot on the piece', when: { field: 'lay', is: PICKED } })),
  angle: z
    .number('The angle must be a number.')
    .min(-3600)
    .max(3600)
    .default(0)
    .meta(meta({ title: 'Angle', unit: '°', step: 5, when: { field: 'lay', is: PICKED } })),
  size: z
    .number('The size must be a number.')
    .min(1, 'The words can be sized down to 1 %.')
    .max(10_000)
    .default(100)
    .meta(meta({ title: 'Size', unit: '%', step: 5, description: 'Depth and edges stay as they are.', when: { field: 'lay', is: PICKED } })),
  letters: z
    .enum(['bent', 'whole'])
    .default('bent')
    .meta(meta({ title: 'Letters', labels: ['Bent', 'Each as it is'], when: { field: 'lay', is: WRAPPED } })),
  line: z
    .enum(['straight', 'level'])
    .default('straight')
    .meta(
      meta({
        title: 'Line',
        labels: ['Straight', 'Level'],
        description: 'As straight as it can over the surface, or on a level as one sees it from the side. On a cylinder both are one.',
        when: { field: 'lay', is: WRAPPED },
      }),
    ),
  floor: z
    .enum(['flat', 'following'])
    .default('flat')
    .meta(
      meta({
        title: 'Beneath',
        labels: ['Flat', 'As the surface'],
        description: 'Flat from the highest place under the words, or everywhere as deep, or as high, as is asked for.',
        when: { field: 'lay', is: ['place', 'straight'] },
      }),
    ),
  smooth: z
    .number('The smoothing must be a number.')
    .min(0)
    .max(50)
    .default(0)
    .meta(
      meta({
        title: 'Smoothed over',
        unit: 'mm',
        step: 0.5,
        description: 'How much of a rough surface the words pass over; 0: as much as is needed.',
        advanced: true,
        when: { field: 'lay', is: PICKED },
      }),
    ),
}

export const layingSchema = z.object(layingFields)

export type LayingParams = z.infer<typeof layingSchema>

/** How words are laid, in words; empty where they stand at their place. */
export const layingWords = ({ lay, letters, angle }: LayingParams): string =>
  lay === 'place'
    ? ''
    : [
        { straight: ', straight on', round: ', wrapped round', any: ', over the surface' }[lay],
        letters === 'whole' && lay !== 'straight' ? ', letter by letter' : '',
        angle === 0 ? '' : `, at ${plain(angle)}°`,
      ].join('')
