import { assemblyKey, type BakeStore, partKey, shapeKey } from '../../cache/bakes'
import { hashJson } from '../../cache/hash'
import { Memo } from '../../cache/memo'
import { type Bake, packBake, unpackBake } from '../../format/bake'
import { type BakePart, packBakePart, unpackBakePart } from '../../format/bake-part'
import { NoStand, type Stand, type Work } from '../../physics/recording'
import type { Apart } from '../../repeat/apart'
import type { Solid } from '../../solid/solid'
import type { StepContext } from '../step'

/** Raised when the same things and values are followed in another way, so that what was baked before is not taken for it. */
const VERSION = 4
/** Of all recordings together so many bytes are kept at hand. */
const AT_HAND = 256 * 1024 * 1024
/** While a simulation goes on, what it recorded is kept this often, ms: so much is lost with its page at most. */
const KEPT_EVERY = 3000

/** How a recording becomes a bake and is read from one; `read` gives undefined for what is none of its kind. */
export interface Codec<Recording> {
  pack(recording: Recording): Bake
  read(bake: Bake): Recording | undefined
}

interface Running<Recording> {
  readonly done: Promise<Recording | undefined>
  /** who waits for it; it stands still when nobody does */
  readonly wanted: Set<StepContext>
  /** lets it go on */
  go(): void
}

/** Recordings of all kinds, by their keys; `recording` is undefined for what blows up. */
const atHand = new Memo(AT_HAND)
/** Ends the simulation that stands still, of whatever kind: it holds an engine with 128 MB, so that there is one at most. */
let endParked: (() => void) | undefined

/**
 * What simulations recorded, under keys of what they are made of, so that any moment of it can be shown after the other. A recording is made once: it is kept at hand, and among the bakes.
 * One that is stopped stands still and goes on from there when it is wanted again, as long as no other has taken its place. What it recorded is kept among the bakes meanwhile, in parts, with where it
 * stood: one that was lost with its page, or with its machine, goes on from the last part, bit by bit as if it had not been broken off.
 */
export class Recordings<Recording> {
  private readonly running = new Map<string, Running<Recording>>()

  constructor(
    private readonly kind: string,
    private readonly codec: Codec<Recording>,
    private readonly keptEvery = KEPT_EVERY,
  ) {}

  /**
   * The recording of things under values, from the bakes or made by `make`, which may give none (where it blows up). Rejects with the abort reason when it is stopped.
   */
  async of(
    things: string,
    { obstacles, ...values }: { readonly obstacles: readonly Solid[] },
    context: StepContext,
    make: (work: Work) => Promise<Recording | undefined>,
  ): Promise<Recording | undefined> {
    const key = `${this.kind}-${hashJson([VERSION, things, values, obstacles.map(shapeKey)])}`
    const known = atHand.peek<{ readonly recording?: Recording }>(key)
    if (known) return known.recording
    const baked = await context.bakes?.read(key)
    const before = baked && this.read(baked)
    if (before) {
      atHand.put(key, { recording: before })
      return before
    }
    context.signal?.throwIfAborted()
    const run = this.running.get(key) ?? this.begin(key, make, context.bakes)
    run.wanted.add(context)
    run.go()
    try {
      const made = await unlessStopped(run.done, context.signal)
      // of several who waited one keeps it
      const already = atHand.peek<{ readonly recording?: Recording }>(key)
      if (already) return already.recording
      // as it will come back from a bake, so that it is the same whether it does
      const bytes = made && packBake(this.codec.pack(made))
      const recording = bytes && this.read(bytes)
      atHand.put(key, { recording })
      if (bytes) await context.bakes?.write(key, bytes)
      return recording
    } finally {
      run.wanted.delete(context)
    }
  }

  private read(bytes: Uint8Array): Recording | undefined {
    const bake = unpackBake(bytes)
    return bake && this.codec.read(bake)
  }

  /** Makes a recording, from where it was last kept, and keeps it on the way. */
  private async goOn(
    key: string,
    work: Work,
    make: (work: Work) => Promise<Recording | undefined>,
    bakes: BakeStore | undefined,
  ): Promise<Recording | undefined> {
    if (!bakes) return make(work)
    const before = await lastStand(key, bakes)
    if (before) {
      try {
        return await make({ ...work, from: before.stand, keep: this.keeper(key, bakes, before.parts, before.stand.frames, before.run) })
      } catch (error) {
        if (!(error instanceof NoStand)) throw error
      }
    }
    return make({ ...work, keep: this.keeper(key, bakes) })
  }

  private keeper(key: string, bakes: BakeStore, parts = 0, frames = 0, run = attempt()): NonNullable<Work['keep']> {
    let last = performance.now()
    return async (stand) => {
      if (performance.now() - last < this.keptEvery) return
      const now = stand()
      // it began anew, with finer steps
      if (now.frames <= frames) [parts, frames, run] = [0, 0, attempt()]
      const stride = now.values.length / now.frames
      await bakes.write(partKey(key, parts++), packBakePart({ ...now, run, before: frames, stride, values: now.values.subarray(frames * stride) }))
      frames = now.frames
      last = performance.now()
    }
  }

  private begin(key: string, make: (work: Work) => Promise<Recording | undefined>, bakes: BakeStore | undefined): Running<Recording> {
    const wanted = new Set<StepContext>()
    let wake: (() => void) | undefined
    const forget = () => this.running.get(key) === run && this.running.delete(key)
    /** resolves when somebody wants it again; rejects when another one is to stand still */
    const parked = () =>
      new Promise<void>((resolve, reject) => {
        endParked?.()
        const end = () => {
          forget()
          reject(new Error('another simulation took its place'))
        }
        endParked = end
        wake = () => {
          if (endParked === end) endParked = undefined
          resolve()
        }
      })
    const work: Work = {
      progress: (done) => wanted.forEach((context) => context.progress(done)),
      breathe: async () => {
        for (;;) {
          const one = [...wanted].find(({ signal }) => !signal?.aborted)
          // whoever stops it does not stop it for others
          if (one) return one.breathe().catch(() => {})
          await parked()
        }
      },
    }
    const run: Running<Recording> = { wanted, go: () => wake?.(), done: Promise.resolve().then(() => this.goOn(key, work, make, bakes)) }
    this.running.set(key, run)
    run.done.then(forget, forget)
    return run
  }
}

/** Tells the parts of one attempt from those of another; nothing that is recorded hangs on it. */
const attempt = () => Math.floor(Math.random() * 2 ** 40)

/** Where a simulation stood when it was last kept, from its parts, and how many these are; undefined when there are none. */
async function lastStand(key: string, bakes: BakeStore): Promise<{ readonly stand: Stand; readonly parts: number; readonly run: number } | undefined> {
  const all: Float32Array[] = []
  let [frames, length]: [number, number] = [0, 0]
  let last: BakePart | undefined
  for (;;) {
    const bytes = await bakes.read(partKey(key, all.length))
    const part = bytes && unpackBakePart(bytes)
    // one that does not go on from the one before is left from another attempt
    if (!part || part.before !== frames || (last && (part.run !== last.run || part.stride !== last.stride))) break
    all.push(part.values)
    length += part.values.length
    frames += part.values.length / part.stride
    last = part
  }
  if (!last) return undefined
  const values = new Float32Array(length)
  let at = 0
  for (const part of all) {
    values.set(part, at)
    at += part.length
  }
  return { stand: { frames, values, engine: last.engine, own: last.own }, parts: all.length, run: last.run }
}

/** A promise that rejects with the abort reason when a signal comes before it is fulfilled; what it waits for goes on. */
function unlessStopped<T>(done: Promise<T>, signal: AbortSignal | undefined): Promise<T> {
  if (!signal) return done
  return new Promise<T>((resolve, reject) => {
    const stop = () => reject(signal.reason)
    signal.addEventListener('abort', stop, { once: true })
    done.then(resolve, reject).finally(() => signal.removeEventListener('abort', stop))
  })
}

/** Tells things that are simulated from all others: what they are, and how they are taken apart. */
export const thingsKey = ({ assembly, things }: Apart): string => hashJson([assemblyKey(assembly), things.map(({ entries, lot }) => [entries, lot])])
