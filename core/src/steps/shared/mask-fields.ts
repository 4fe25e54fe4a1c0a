import { meta } from '../meta'
import type { z } from 'zod'
import { maskSchema } from '../../mask/schema'

/** Where and how strongly a step acts; everywhere, or as some entries say, unless it is changed. */
export const maskOf = (list: z.input<typeof maskSchema>['list'] = []) => maskSchema.prefault({ list }).meta(meta({ title: 'Mask', holds: 'mask' }))

export const maskParam = maskOf()

/** The same for map deformations, which go back to the shape at rest. */
export const maskAtRest = maskParam.meta(meta({ title: 'Mask', holds: 'mask', atRest: true }))
