import { z } from 'zod'
import { meta } from '../../meta'
import { touch } from './touches'

export const smoothParams = z.object({
  where: z
    .enum(['all', 'brushed'])
    .default('all')
    .meta(meta({ title: 'Where', labels: ['Everywhere', 'Where brushed'] })),
  amount: z
    .number('The amount must be a number.')
    .min(0, 'The amount cannot be below 0 mm.')
    .max(50, 'The amount can be at most 50 mm.')
    .default(1)
    .meta(meta({ title: 'Amount', unit: 'mm', step: 0.25, tried: true, most: 10, description: 'Bumps shorter than this are smoothed away.' })),
  corners: z
    .number('The angle must be a number.')
    .min(5)
    .max(180)
    .default(50)
    .meta(
      meta({
        title: 'Keep corners',
        unit: '°',
        step: 5,
        description: 'Turns sharper than this stay; 180 rounds every corner off.',
        when: { field: 'where', is: ['all'] },
      }),
    ),
  touches: z
    .object({
      /** the text that the letters are counted in */
      of: z.string().max(5000),
      /** as documents had them before brushing became a file of its own */
      list: z.array(touch).max(5000).default([]),
      /** the touches, see touches.ts */
      file: z.object({ sha256: z.string().regex(/^[0-9a-f]{64}$/), name: z.string().max(200) }).optional(),
    })
    .default({ of: '', list: [] })
    .meta(meta({ title: 'Brush', drawn: true, when: { field: 'where', is: ['brushed'] } })),
})

/** Whether nothing has been brushed. */
export const isUntouched = ({ list, file }: z.infer<typeof smoothParams>['touches']): boolean => list.length === 0 && !file
