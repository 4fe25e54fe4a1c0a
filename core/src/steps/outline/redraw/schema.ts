import { z } from 'zod'
import { nodePath } from '../../../outline/node-path'
import { meta } from '../../meta'

/** Outlines drawn anew for one letter (or, `at` −1, one shape that is no letter), beside what they were drawn over. */
const redrawnLetter = z.object({
  /** UTF-16 offset of the letter in `of`; −1 for a shape that is no letter, and for a letter that is gone: it waits to be used for another */
  at: z.number().int().min(-1).max(100_000),
  text: z.string().max(64),
  /** the outlines as they came */
  base: z.array(nodePath).min(1).max(200),
  /** as they were drawn */
  paths: z.array(nodePath).max(200),
})

export const redrawParams = z.object({
  edits: z
    .object({ of: z.string().max(5000), list: z.array(redrawnLetter).max(500, 'At most 500 letters can be drawn anew.') })
    .default({ of: '', list: [] })
    .meta(meta({ title: 'Outlines', drawn: true })),
})

export type RedrawnLetter = z.infer<typeof redrawnLetter>
export type RedrawParams = z.infer<typeof redrawParams>
