import { z } from 'zod'

/** How the two handles of a node hang together: not at all, in one line, or in one line and of one length. */
export const NODE_KINDS = ['corner', 'smooth', 'symmetric'] as const

const MAX_NODES = 5000

const REACH = 100_000

const length = z.number().min(-REACH).max(REACH)

const handle = z.tuple([length, length])

/** A node of a drawn line, mm; handles are given from the node. A side between two nodes without handles is straight. */
export const pathNode = z.object({
  x: length,
  y: length,
  kind: z.enum(NODE_KINDS).optional(),
  in: handle.optional(),
  out: handle.optional(),
  /** the pen's pressure, 0 to 1; 1 when left out */
  pressure: z.number().min(0).max(1).optional(),
})

/** A drawn line or outline as a person edits it. */
export const nodePath = z.object({ closed: z.boolean(), nodes: z.array(pathNode).min(1).max(MAX_NODES) })
