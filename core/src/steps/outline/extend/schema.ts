import { z } from 'zod'
import { nodePath } from '../../../outline/node-path'
import { GONE } from '../../../document/letters'
import { meta } from '../../meta'

/** A place on an outline: a share 0 to 1 of the length of one of a letter's contours; `at` −1 for a place in the plane. */
const anchor = z.object({ at: z.number().int().min(GONE).max(100_000), contour: z.number().int().min(0).max(10_000), share: z.number().min(0).max(1) })

const limb = z.object({
  from: anchor,
  to: anchor,
  /** the line from the one place to the other as it was drawn, mm */
  line: nodePath,
  /** widths where it leaves and arrives, mm */
  width: z.number().min(0.1).max(500),
  endWidth: z.number().min(0.1).max(500),
  /** how far the corners at its ends are filled, mm */
  blend: z.number().min(0).max(200),
})

export const extendParams = z.object({
  limbs: z
    .object({ of: z.string().max(5000), list: z.array(limb).max(200) })
    .default({ of: '', list: [] })
    .meta(meta({ title: 'Limbs', drawn: true })),
})

export type Limb = z.infer<typeof limb>
export type Anchor = z.infer<typeof anchor>
