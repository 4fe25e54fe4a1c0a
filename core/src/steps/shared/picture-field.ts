import { z } from 'zod'

/** A picture that travels with the project; without a hash none has been chosen. */
export const pictureFile = z.object({ sha256: z.string().regex(/^([0-9a-f]{64})?$/), name: z.string().max(200) }).default({ sha256: '', name: '' })
