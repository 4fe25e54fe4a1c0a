import { z } from 'zod'
import { GROUPS } from '../solid/labels'
import { paintedSchema } from './painted-schema'

export const MASK_SOURCES = [
  'distance',
  'height',
  'depth',
  'along',
  'stroke',
  'curvature',
  'group',
  'letters',
  'layers',
  'ball',
  'box',
  'plane',
  'noise',
  'picture',
  'painted',
] as const
/** What a mask goes by. */
export type MaskSource = (typeof MASK_SOURCES)[number]

export const MASK_WAYS = ['multiply', 'add', 'subtract', 'higher', 'lower'] as const
/** How an entry meets those before it. */
export type MaskWay = (typeof MASK_WAYS)[number]

/** From where a picture is cast; 'sides': from three at once, each on what looks its way. */
export const CASTS = ['front', 'above', 'side', 'sides'] as const

export const CURVED = ['convex', 'concave', 'both'] as const

const number = (what: string, min: number, max: number) =>
  z.number(`${what} must be a number.`).min(min, `${what} is at least ${min}.`).max(max, `${what} is at most ${max}.`)
const place = z.tuple([number('A place', -1e5, 1e5), number('A place', -1e5, 1e5), number('A place', -1e5, 1e5)])

const maskPoints = z
  .array(z.tuple([number('A point of the curve', 0, 1), number('A point of the curve', 0, 100)]))
  .max(24, 'The curve takes 24 points at most.')
  .refine((points) => points.every(([t], i) => i === 0 || t > points[i - 1][0]), 'The points of the curve go from left to right, each at a place of its own.')

/** One entry of a mask. Which of the values count goes by what it is by. */
export const maskEntry = z.object({
  by: z.enum(MASK_SOURCES).default('distance'),
  way: z.enum(MASK_WAYS).default('multiply'),
  /** 1 where it would be 0 */
  turned: z.boolean().default(false),
  /** %, how much of it counts */
  strength: number('The strength', 0, 100).default(100),
  /** distance: mm from the outline; height, depth, along: % of the piece; stroke: % of the stroke, as it is written. Nought before the one, whole behind the other */
  from: number('From', -1e5, 1e5).default(0),
  to: number('To', -1e5, 1e5).default(4),
  /** curvature: which way, and the radius, mm, at which it is whole */
  curved: z.enum(CURVED).default('convex'),
  radius: number('The radius', 0.001, 1e5).default(2),
  groups: z.array(z.enum(GROUPS)).default(['face']),
  /** the letters it takes, as they are written */
  letters: z.string().max(2000, 'At most 2,000 letters can be named.').default(''),
  /** the names of the layers it takes */
  layers: z.array(z.string().max(200)).max(100).default([]),
  /** ball, box, plane: the middle, mm; the size of the box; where a plane looks; how wide the soft border is, mm */
  centre: place.default([0, 0, 0]),
  size: z.tuple([number('A size', 0, 1e5), number('A size', 0, 1e5), number('A size', 0, 1e5)]).default([20, 20, 20]),
  facing: z.enum(['right', 'up', 'forward']).default('up'),
  soft: number('The soft border', 0, 1e5).default(5),
  /** noise: the size of its spots, mm, and which one */
  scale: number('The scale', 0.01, 1e5).default(8),
  seed: z.int('The seed must be a whole number.').min(0).max(1e9).default(1),
  /** picture: white is whole. From where it is cast on the piece, and how wide it is, mm; 0: it covers all of it */
  picture: z.object({ sha256: z.string().regex(/^([0-9a-f]{64})?$/), name: z.string().max(200) }).default({ sha256: '', name: '' }),
  cast: z.enum(CASTS).default('front'),
  wide: number('The width', 0, 1e5).default(0),
  /** painted: dabs of the brush, letter by letter */
  painted: paintedSchema.default({ of: '', list: [] }),
  /** what it becomes by what it is: points of 0 to 1 and %; as it is where there are none */
  curve: maskPoints.default([]),
})
export type MaskEntry = z.infer<typeof maskEntry>

export const MOST_ENTRIES = 12

/** Where and how strongly a step acts: entries from top to bottom; everywhere when there are none. */
export const maskSchema = z.object({
  list: z.array(maskEntry).max(MOST_ENTRIES, `A mask has at most ${MOST_ENTRIES} entries.`).default([]),
  /** mm over which it is blurred along the surface */
  blur: number('The blur', 0, 100).default(0),
  /** measured on the shape as it comes to the step, and not once on the shape at rest */
  live: z.boolean().default(false),
})
export type Mask = z.infer<typeof maskSchema>

export const NO_MASK: Mask = maskSchema.parse({})
