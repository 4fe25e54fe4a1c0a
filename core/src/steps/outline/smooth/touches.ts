import { z } from 'zod'
import { GONE } from '../../../document/letters'
import { FormatError } from '../../../format/mesh-data'

/** A touch of the smoothing brush: where its middle lies, measured from the lower left of its letter when it is on one. */
export const touch = z.object({
  at: z.number().int().min(GONE).max(100_000),
  x: z.number().min(-100_000).max(100_000),
  y: z.number().min(-100_000).max(100_000),
  r: z.number().min(0.05).max(1000),
})

export type Touch = z.infer<typeof touch>

export const MOST_TOUCHES = 20_000

const file = z.object({ kelvar: z.literal('touches'), touches: z.array(touch).max(MOST_TOUCHES) })

/** Touches as the bytes of an asset. */
export const writeTouches = (touches: readonly Touch[]): Uint8Array => new TextEncoder().encode(JSON.stringify({ kelvar: 'touches', touches }))

/** The touches in an asset's bytes. Throws FormatError when they are none. */
export function readTouches(bytes: Uint8Array): Touch[] {
  let value: unknown
  try {
    value = JSON.parse(new TextDecoder().decode(bytes))
  } catch {
    throw new FormatError('What was brushed cannot be read: it is damaged.', 'Take all brushing away, or restore an earlier revision.')
  }
  const parsed = file.safeParse(value)
  if (!parsed.success) throw new FormatError('What was brushed cannot be read: it is damaged.', 'Take all brushing away, or restore an earlier revision.')
  return parsed.data.touches
}
