import { z } from 'zod'
import { GONE } from '../document/letters'

/** What one mask's entry holds in a document, and all that it takes. */
export const MOST_DABS = 4000
const MOST_LETTERS = 5000

const finite = z.number('A dab of the brush is told by numbers.').min(-1e5).max(1e5)

/** One press of the brush on one letter. */
export const dabSchema = z.object({
  /** where its letter begins in the text, UTF-16; −1 for what is no letter's */
  at: z.int().min(-1).max(1e6),
  /** from the left, lower, back corner of that letter's box, mm */
  place: z.tuple([finite, finite, finite]),
  /** mm */
  radius: z.number().min(0.01, 'A brush is at least 0.01 mm.').max(1e4),
  /** how much of the radius fades out, % */
  soft: z.number().min(0).max(100),
  /** how much it lays on, %; below nought it takes away */
  amount: z.number().min(-100).max(100),
  /** it draws what is there towards the mean round about instead */
  smooths: z.boolean().optional(),
})

/** What was painted, and the text its letters stand in. */
export const paintedSchema = z.object({
  of: z.string().max(20_000),
  /** dabs of the stroke that is being painted, and those of older documents: on top of those in the file */
  list: z.array(dabSchema).max(MOST_DABS, `A mask takes ${MOST_DABS} dabs of the brush at most.`),
  /** the dabs, see painted-file.ts, and how many they are */
  file: z.object({ sha256: z.string().regex(/^[0-9a-f]{64}$/), name: z.string().max(200), count: z.int().min(0).max(MOST_DABS) }).optional(),
  /** the letters that dabs in the file are on, by their number there: a file stays what it is when words are changed */
  letters: z
    .array(z.object({ at: z.int().min(GONE).max(1e6) }))
    .max(MOST_LETTERS, `At most ${MOST_LETTERS} letters can be painted.`)
    .optional(),
})
