import { assemblyKey, shapeKey } from '../../cache/bakes'
import { hashJson } from '../../cache/hash'
import { type Bake, packBake, unpackBake } from '../../format/bake'
import type { Apart } from '../../repeat/apart'
import type { Solid } from '../../solid/solid'
import type { StepContext } from '../step'

/** Raised when the same things and values are followed in another way, so that what was baked before is not taken for it. */
const VERSION = 1
/** Recordings that are kept at hand, and simulations that stand still after they were stopped: each of those holds an engine with 128 MB. */
const MOST_KEPT = 6
const MOST_PARKED = 1

/** How a recording becomes a bake and is read from one; `read` gives undefined for what is none of its kind. */
export interface Codec<Recording> {
  pack(recording: Recording): Bake
  read(bake: Bake): Recording | undefined
}

interface Running<Recording> {
  readonly done: Promise<Recording | undefined>
  /** lets it go on for someone who wants it, or has it stand still when nobody does */
  readonly wanted: Set<StepContext>
  go(): void
  end(): void
  parked: boolean
}

/**
 * What simulations recorded, under keys of what they are made of, so that any moment of it can be shown after the other. A recording is made once: it is kept at hand, and in the project's bakes.
 * One that is stopped stands still and goes on from there when it is wanted again, as long as no other has taken its place.
 */
export class Recordings<Recording> {
  private readonly known = new Map<string, Recording | undefined>()
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
    make: (work: Pick<StepContext, 'breathe' | 'progress'>) => Promise<Recording | undefined>,
  ): Promise<Recording | undefined> {
    const key = `${this.kind}-${hashJson([VERSION, things, values, obstacles.map(shapeKey)])}`
    if (this.known.has(key)) {
      const recording = this.known.get(key)
      // used last, dropped last
      this.keep(key, recording)
      return recording
    }
    const baked = await context.bakes?.read(key)
    const bake = baked && unpackBake(baked)
    const before = bake && this.codec.read(bake)
    if (before) {
      this.keep(key, before)
      return before
    }
    context.signal?.throwIfAborted()
    const run = this.running.get(key) ?? this.begin(key, make)
    run.wanted.add(context)
    if (run.parked) run.go()
    try {
      const made = await unlessStopped(run.done, context.signal)
      if (made !== undefined && !this.known.has(key)) {
        // as it will come back from a bake, so that it is the same whether it does
        const bytes = packBake(this.codec.pack(made))
        const again = this.codec.read(unpackBake(bytes) as Bake)
        this.keep(key, again ?? made)
        await context.bakes?.write(key, bytes)
      } else if (made === undefined) this.keep(key, undefined)
      this.running.delete(key)
      return this.known.get(key)
    } catch (error) {
      if (!context.signal?.aborted) this.running.delete(key)
      throw error
    } finally {
      run.wanted.delete(context)
    }
  }

  private begin(key: string, make: (work: Pick<StepContext, 'breathe' | 'progress'>) => Promise<Recording | undefined>): Running<Recording> {
    const wanted = new Set<StepContext>()
    let [wake, reject]: [(() => void) | undefined, ((reason: unknown) => void) | undefined] = [undefined, undefined]
    const run: Running<Recording> = {
      wanted,
      parked: false,
      go: () => wake?.(),
      end: () => reject?.(new Error('another simulation took its place')),
      done: Promise.resolve().then(() =>
        make({
          progress: (done) => wanted.forEach((context) => context.progress(done)),
          breathe: async () => {
            for (;;) {
              const [one] = [...wanted].filter(({ signal }) => !signal?.aborted)
              if (one) return one.breathe().catch(() => {})
              this.makeRoom(key)
              run.parked = true
              await new Promise<void>((resolve, refuse) => ([wake, reject] = [resolve, refuse]))
              run.parked = false
            }
          },
        }),
      ),
    }
    run.done.catch(() => this.running.delete(key))
    this.running.set(key, run)
    return run
  }

  /** Ends simulations that stand still for another one to do so. */
  private makeRoom(key: string): void {
    const parked = [...this.running].filter(([own, { parked: still }]) => own !== key && still)
    for (const [, run] of parked.slice(0, Math.max(0, parked.length - MOST_PARKED + 1))) run.end()
  }

  private keep(key: string, recording: Recording | undefined): void {
    this.known.delete(key)
    this.known.set(key, recording)
    for (const old of this.known.keys()) if (this.known.size > MOST_KEPT) this.known.delete(old)
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
