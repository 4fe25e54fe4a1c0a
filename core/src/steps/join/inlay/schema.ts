import { z } from 'zod'
import { meta } from '../../meta'
import { BEYOND, leaveParam, wordsParam } from '../../shared/join-fields'
import { layingFields } from '../../shared/laying-fields'

export const inlayParams = z.object({
  words: wordsParam,
  depth: z
    .number('The depth must be a number.')
    .min(0.1, 'The pocket must be at least 0.1 mm deep.')
    .max(500)
    .default(3)
    .meta(meta({ title: 'Depth', unit: 'mm', step: 0.5, pull: 'forward', pullBy: -1 })),
  clearance: z
    .number('The clearance must be a number.')
    .min(0)
    .max(20)
    .default(0.15)
    .meta(meta({ title: 'Clearance', unit: 'mm', step: 0.05, description: 'Between the pocket and what goes into it, all round.' })),
  beneath: z
    .number('The room beneath must be a number.')
    .min(0)
    .max(50)
    .default(0.1)
    .meta(meta({ title: 'Room beneath', unit: 'mm', step: 0.05, description: 'For glue, and so that the insert comes down to its height.' })),
  lead: z
    .number('The lead-in must be a number.')
    .min(0)
    .max(20)
    .default(0.4)
    .meta(meta({ title: 'Lead-in', unit: 'mm', step: 0.1, description: 'A chamfer at the foot of the insert.' })),
  proud: z
    .number('How far it stands out must be a number.')
    .min(-100)
    .max(200)
    .default(0)
    .meta(meta({ title: 'Stands out', unit: 'mm', step: 0.5, description: 'How far the insert stands over the face; below 0 it lies deeper.' })),
  ...layingFields,
  floor: layingFields.floor.meta(
    meta({
      title: 'Beneath',
      labels: ['Flat', 'As the surface'],
      description: 'The pocket is flat from the highest place under the words, or everywhere as deep as is asked for.',
      when: { field: 'lay', is: ['straight'] },
    }),
  ),
  leave: leaveParam,
})

/** How far the pocket reaches from the surface, mm. */
export const pocketReach = ({ depth, beneath }: { readonly depth: number; readonly beneath: number }): number => Math.max(BEYOND, depth + beneath)
