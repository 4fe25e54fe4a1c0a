import { z } from 'zod'
import { MOST_FRAMES, track } from '../motion/track'

/** The version this code writes. Raise it with a migration in migrations.ts. */
export const DOCUMENT_VERSION = 4

const MAX_PIECES = 200
const MAX_STEPS = 100
/** try-outs that a piece keeps side by side */
export const MAX_TRY_OUTS = 9

const id = z.string().regex(/^[a-z0-9][a-z0-9-]{0,63}$/, 'An id is made of small letters, digits and hyphens.')

const routeStep = z.object({
  id,
  /** name of the step, see `kelvar steps` */
  kind: z.string().min(1).max(64),
  /** the step's version that the parameters are of; 1 where it is left out */
  version: z.number().int().min(1).max(10_000).optional(),
  /** a step that is off is passed over */
  on: z.boolean().default(true),
  /** its parameters; checked by the step when it runs, so that a bad value shows at the step and loses nothing */
  params: z.record(z.string(), z.unknown()).default({}),
  /** its values that move, by the parameter's name, “front.inset” for what is inside one, “on” for its switch */
  tracks: z.record(z.string().regex(/^[A-Za-z][A-Za-z0-9]*(\.[A-Za-z][A-Za-z0-9]*){0,3}$/), track).optional(),
})

const length = z.number().min(-100_000).max(100_000)

/** What lies on a piece's drawing board besides what the steps make: it helps with drawing and changes nothing. */
export const board = z.object({
  picture: z
    .object({
      sha256: z.string().regex(/^[0-9a-f]{64}$/),
      name: z.string().max(200),
      /** its lower left corner and width, mm; the height follows */
      x: length,
      y: length,
      width: z.number().min(0.1).max(100_000),
      opacity: z.number().min(0).max(1),
    })
    .optional(),
  /** straight guides, mm: upright ones at an x, level ones at a y */
  guides: z
    .array(z.object({ along: z.enum(['x', 'y']), at: length }))
    .max(200)
    .default([]),
})

/** A kept set of values: the whole route as it was. Its picture is drawn from it. */
export const tryOut = z.object({
  id,
  name: z.string().min(1).max(60),
  route: z.array(routeStep).max(MAX_STEPS),
})

const coordinate = z.number().min(-1_000_000).max(1_000_000)

/** Where a piece stands among the others: sized, then turned about its own x, y and z in that order, then moved. */
export const place = z.object({
  /** mm */
  position: z.tuple([coordinate, coordinate, coordinate]).default([0, 0, 0]),
  /** degrees */
  turn: z.tuple([z.number().min(-3600).max(3600), z.number().min(-3600).max(3600), z.number().min(-3600).max(3600)]).default([0, 0, 0]),
  /** factor on all its sizes */
  size: z.number().min(0.001).max(1000).default(1),
})

/** What of a place can move. */
export const PLACE_TRACKS = ['x', 'y', 'z', 'turnX', 'turnY', 'turnZ', 'size'] as const
export type PlaceTrack = (typeof PLACE_TRACKS)[number]

export const piece = z.object({
  id,
  name: z.string().min(1).max(120),
  /** where it was made, unturned and in its own size, when left out */
  place: place.optional(),
  /** what of its place moves: where it stands, mm, how it is turned, degrees, and its size */
  tracks: z.partialRecord(z.enum(PLACE_TRACKS), track).optional(),
  /** left out when all pieces are looked at together */
  hidden: z.boolean().optional(),
  route: z.array(routeStep).max(MAX_STEPS),
  board: board.optional(),
  tryOuts: z.array(tryOut).max(MAX_TRY_OUTS).optional(),
})

/** What a file that travels with a project is. */
export const ASSET_TYPES = ['font', 'vector', 'picture', 'model', 'field', 'bake', 'paint', 'sound'] as const

export const asset = z.object({
  sha256: z.string().regex(/^[0-9a-f]{64}$/),
  name: z.string().max(200),
  type: z.enum(ASSET_TYPES),
  bytes: z.number().int().nonnegative(),
})

export const projectDocument = z.object({
  format: z.literal('kelvar'),
  version: z.literal(DOCUMENT_VERSION),
  name: z.string().min(1).max(120),
  pieces: z.array(piece).max(MAX_PIECES),
  /** what the project carries with it, named by content */
  assets: z.array(asset).max(500).default([]),
  /** its time: frames a second, and how many there are */
  time: z
    .object({
      rate: z.number().min(1, 'A film has a frame a second at least.').max(240, 'A film has 240 frames a second at most.'),
      frames: z
        .int('Frames come in whole numbers.')
        .min(1)
        .max(MOST_FRAMES, `A film has ${MOST_FRAMES.toLocaleString('en')} frames at most.`),
      /** frames with a name, to time by */
      markers: z
        .array(z.object({ at: z.int('A marker stands at a frame.').min(0).max(MOST_FRAMES), name: z.string().max(60) }))
        .max(200, 'A film has 200 markers at most.')
        .optional(),
      /** a sound to time by, and the frame it begins at */
      sound: z
        .object({
          sha256: z.string().regex(/^[0-9a-f]{64}$/),
          name: z.string().max(200),
          at: z.int('A sound begins at a frame.').min(-MOST_FRAMES).max(MOST_FRAMES),
        })
        .optional(),
    })
    .optional(),
  /** a camera that moves: where it stands and what it looks at, three numbers each, mm, and its lens, mm */
  camera: z.object({ at: track, aim: track, lens: track }).optional(),
})

export type RouteStep = z.infer<typeof routeStep>
export type Piece = z.infer<typeof piece>
export type Place = z.infer<typeof place>
export type TryOut = z.infer<typeof tryOut>
export type Board = z.infer<typeof board>
export type Asset = z.infer<typeof asset>
export type ProjectDocument = z.infer<typeof projectDocument>
