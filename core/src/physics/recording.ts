import { z } from 'zod'
import type { Bake } from '../format/bake'

/** Steps of time and moments kept in a second. */
export const RATE = 60
/** Things are followed so far, mm: what falls for ever is not. */
export const FARTHEST = 20_000

/** A speed that nothing has unless it is blowing up, m/s. */
export const TOO_FAST = 250
/** Numbers that a recording may hold. */
const MOST_KEPT = 24_000_000

/** Whole seconds that can be followed of so many points. */
export const secondsFor = (points: number): number => Math.floor(MOST_KEPT / (3 * points) / RATE)

/** What long work reports to and lets others in by; `breathe` rejects when it is stopped. */
export interface Work {
  breathe(): Promise<void>
  progress(done: number): void
  /** where the same work was broken off before, to go on from there */
  readonly from?: Stand
  /** keeps where it stands now, if it is time to; `stand` is asked only then */
  keep?(stand: () => Stand): Promise<void>
}

/** Where a simulation stands after so many frames: going on from there gives what it would have given, bit by bit. */
export interface Stand {
  readonly frames: number
  /** the numbers of all of them, frame by frame, as it records them */
  readonly values: Float32Array
  /** see World.state */
  readonly engine: Uint8Array
  /** what it has to know besides */
  readonly own: readonly number[]
}

/** What was kept of a simulation is not of this one, or of another engine: it has to be begun anew. */
export class NoStand extends Error {}

/** Where between two moments kept a time lies, s: their numbers, and how far it is from the first to the second. After the last it stays there. */
export function momentsAbout(frames: number, seconds: number): { readonly low: number; readonly high: number; readonly share: number } {
  const at = Math.min(frames - 1, Math.max(0, seconds * RATE))
  const low = Math.floor(at)
  return { low, high: Math.ceil(at), share: at - low }
}

/** Points that moved, sixty times a second. */
export interface PointRecording {
  readonly frames: number
  /** x, y, z of every point, mm, frame by frame */
  readonly points: Float32Array
  /** when all came to rest, s; undefined when it had not */
  readonly rest?: number
}

const aboutPoints = z.object({ rest: z.number().optional() })

/** As it is kept. */
export const pointCodec = {
  pack: ({ frames, points, rest }: PointRecording): Bake => ({
    about: rest === undefined ? {} : { rest },
    frames,
    stride: points.length / frames,
    period: 3,
    values: points,
  }),
  read({ about, frames, period, values }: Bake): PointRecording | undefined {
    const read = aboutPoints.safeParse(about)
    return read.success && period === 3 ? { frames, points: values, ...read.data } : undefined
  },
}
