import { z } from 'zod'
import { APART_BY } from '../../../repeat/apart-by'
import { meta } from '../../meta'

export const runningLightParams = z.object({
  at: z
    .number('The place of the light must be a number.')
    .min(0, 'The light goes from 0 to 100 %.')
    .max(100, 'The light goes from 0 to 100 %.')
    .default(50)
    .meta(meta({ title: 'Where it is', unit: '%', step: 1, description: '0: not there yet; 100: it has passed. Key it at two frames to let it run.' })),
  by: z
    .enum(APART_BY)
    .default('letter')
    .meta(meta({ title: 'Each', labels: ['Letter', 'Word', 'Line', 'Copy or shard', 'Connected part'] })),
  order: z
    .enum(['across', 'up', 'text', 'middle'])
    .default('across')
    .meta(meta({ title: 'Runs', labels: ['From left to right', 'Upwards', 'As one reads', 'From the middle out'] })),
  turned: z
    .boolean()
    .default(false)
    .meta(meta({ title: 'The other way round' })),
  width: z
    .number('The width must be a number.')
    .min(1, 'The light is at least 1 % wide.')
    .max(200)
    .default(30)
    .meta(meta({ title: 'Width', unit: '%', step: 5, description: 'How much of all of it is lit at a time.' })),
  on: z
    .enum(['face', 'face-edge', 'all'])
    .default('face-edge')
    .meta(meta({ title: 'On', labels: ['Faces', 'Faces, edges', 'All'] })),
  colours: z
    .array(z.string().regex(/^#[0-9a-f]{6}$/, 'A colour is written #rrggbb.'))
    .min(1, 'The light has one colour at least.')
    .max(12, 'The light has twelve colours at most.')
    .default(['#fff1c4'])
    .meta(meta({ title: 'Colours', holds: 'colours', description: 'Of several, one after another takes its own.' })),
  strength: z
    .number('The strength must be a number.')
    .min(0)
    .max(100)
    .default(100)
    .meta(meta({ title: 'Strength', unit: '%', step: 5 })),
})
