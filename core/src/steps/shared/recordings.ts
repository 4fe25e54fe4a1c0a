import { assemblyKey, shapeKey } from '../../cache/bakes'
import { hashJson } from '../../cache/hash'
import { Memo } from '../../cache/memo'
import { type Bake, packBake, unpackBake } from '../../format/bake'
import type { Work } from '../../physics/recording'
import type { Apart } from '../../repeat/apart'
import type { Solid } from '../../solid/solid'
import type { StepContext } from '../step'

/** Raised when the same things and values are followed in another way, so that what was baked before is not taken for it. */
const VERSION = 1
/** Of all recordings together so many bytes are kept at hand. */
const AT_HAND = 256 * 1024 * 1024

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
 * One that is stopped stands still and goes on from there when it is wanted again, as long as no other has taken its place.
 */
export class Recordings<Recording> {
  private readonly running = new Map<string, Running<Recording>>()

  constructor(
    private readonly kind: string,
    private readonly codec: Codec<Recording>,
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
    const run = this.running.get(key) ?? this.begin(key, make)
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

  private begin(key: string, make: (work: Work) => Promise<Recording | undefined>): Running<Recording> {
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
    const run: Running<Recording> = { wanted, go: () => wake?.(), done: Promise.resolve().then(() => make(work)) }
    this.running.set(key, run)
    run.done.then(forget, forget)
    return run
  }
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
