import { breather } from '../cache/breathing'
import { Memo } from '../cache/memo'
import { type Moment, type ParamsAt, paramsAtMoment, START } from '../document/moment'
import type { Piece, Place, RouteStep } from '../document/schema'
import { TooMuchWork } from '../kernel/work-bound'
import { bringMaskFiles } from '../steps/shared/mask-files'
import type { Threads } from '../parallel/share-out'
import { asOneSolid, type OneSolid } from '../repeat/united'
import { type Assembly, assemblyTriangles, copiesIn, placedUnits } from '../solid/assembly'
import { joinPlaced } from '../solid/operations'
import { triangleCount } from '../solid/solid'
import type { BakeStore } from '../cache/bakes'
import { type AssetSource, failed, givenBy, type PlacedInput, type StepContext, type StepIssue, type StepMarks, type StepOutcome } from '../steps/step'
import type { Value, ValueKind } from '../steps/value'
import { pieceFailed, type Planned, planRoute } from './plan'

export type StepState = 'sound' | 'warning' | 'failed' | 'off' | 'waiting'

/** What one step of a route did. */
export interface StepReport {
  readonly id: string
  readonly state: StepState
  /** content hash of the result: kind, version, parameters and inputs; equal keys mean equal values */
  readonly key?: string
  /** the kind of value it gives, where that is known */
  readonly gives?: ValueKind
  /** its result, where that is at hand: the last good step's always is, those before it where they had to be made or are still kept */
  readonly value?: Value
  readonly issues: readonly StepIssue[]
  /** milliseconds of its own work; 0 when the result was kept from before */
  readonly ms: number
  readonly reused: boolean
  readonly triangles?: number
  /** what the step did, in figures */
  readonly told?: string
  /** what the view shows of how it was done */
  readonly marks?: StepMarks
  /** what `note` said of its value */
  readonly note?: unknown
}

export interface RouteReport {
  readonly steps: readonly StepReport[]
  /** the last good value, and whether the steps after it failed */
  readonly value?: Value
  readonly key?: string
  readonly complete: boolean
  readonly ms: number
  /** a kernel in WASM broke down and cannot be used any more: whoever runs this had better begin afresh */
  readonly kernelLost?: true
}

/** Others that make results at the same time, each with a memo of its own. */
export interface Elsewhere {
  /** Resolves once whoever else is making what has this key has done with it, well or not; undefined where nobody is. */
  awaited(key: string): Promise<void> | undefined
  /** Tells the others that it is being made here. What is given back is to be called when that is over, after the result was shared. */
  begin(key: string): () => void
}

export interface EvaluateOptions {
  readonly assets: AssetSource
  /** where recordings of simulations are kept between calls */
  readonly bakes?: BakeStore
  /** other threads that may help */
  readonly threads?: Threads
  /** kept between calls: step results and whatever steps keep per glyph */
  readonly memo?: Memo
  /** where results go that are others at other moments, with a bound of their own, so that a film does not drive out what stands still */
  readonly frames?: Memo
  /**
   * Called with every result that was made, to hand it to others; gives back what is to be kept of it, such as the same in shared memory.
   * Others put what they get into their own memo, under `resultKey`.
   */
  readonly share?: (key: string, outcome: StepOutcome) => StepOutcome
  /** others that make results at the same time and share them: what one of them is making already is waited for */
  readonly elsewhere?: Elsewhere
  readonly signal?: AbortSignal
  /** called with the step's id and 0 to 1, rising; while it waits for another piece, that piece's name; and what its work is expected to come to, once that is known */
  readonly onProgress?: (step: string, done: number, of?: string, expected?: string) => void
  /** for a first sight, steps that can be made coarser are, so many times */
  readonly rough?: number
  /** stop after the step with this id */
  readonly until?: string
  /** stop after the last step that gives this kind of value */
  readonly wants?: ValueKind
  /** the project's pieces, for steps that work with another one */
  readonly pieces?: readonly Piece[]
  /** the id of the piece that the route makes, so that one which leads back to itself is refused */
  readonly piece?: string
  /** where that piece stands, for steps that work with others at their places */
  readonly place?: Place
  /** what of that moves, and in how many frames a second, for steps that follow it */
  readonly tracks?: Piece['tracks']
  readonly rate?: number
  readonly moment?: Moment
  readonly paramsAt?: ParamsAt
  /** says something of every value that is made, kept with it and told in the report also when the value itself is not at hand any more */
  readonly note?: (value: Value, key: string) => unknown
}

/** Where a step's outcome is kept in a memo, by the step's key. */
export const resultKey = (key: string): string => `step:${key}`

/** Where an assembly is kept as one solid, by the key of the step that gives it. */
const oneSolidKey = (key: string): string => `one:${key}`

/** What is remembered of a step besides its value: small, so that a report needs no value. */
interface Facts {
  readonly ok: boolean
  readonly issues: readonly StepIssue[]
  readonly triangles?: number
  readonly told?: string
  readonly marks?: StepMarks
  readonly note?: unknown
}

/**
 * The report of a route. Keys come first: each step's follows from its parameters and the keys of its inputs alone. Then the last step is
 * pulled: what is kept under its key is taken without making anything before it; otherwise its inputs are pulled, and so on. Whoever asks
 * for the same at the same time shares one run. A failing step ends the route with its issue; what came before it stands. Failures are
 * kept as results are. Rejects only with the signal's reason when aborted.
 */
export async function evaluateRoute(route: readonly RouteStep[], options: EvaluateOptions): Promise<RouteReport> {
  const run = new Run(options)
  options.signal?.throwIfAborted()
  const plan = planRoute(route, {
    pieces: options.pieces ?? [],
    behind: options.piece === undefined ? [] : [options.piece],
    place: options.place,
    tracks: options.tracks,
    rate: options.rate,
    until: options.until,
    wants: options.wants,
    rough: options.rough,
    paramsAt: (step) => (options.paramsAt ?? paramsAtMoment)(step, options.moment ?? START),
  })
  return run.report(plan)
}

/** Waits for something; rejects with the signal's reason as soon as that is given. */
function orStopped(others: Promise<void>, signal: AbortSignal): Promise<void> {
  return new Promise((resolve, reject) => {
    signal.throwIfAborted()
    const stop = () => reject(signal.reason as Error)
    signal.addEventListener('abort', stop, { once: true })
    void others.then(() => {
      signal.removeEventListener('abort', stop)
      resolve()
    })
  })
}

type Tell = (step: string, done: number, of?: string, expected?: string) => void

class Run {
  private readonly memo: Memo
  private readonly frames: Memo
  /** own work of the steps that were made in this run, by their keys, ms */
  private readonly made = new Map<string, number>()
  /** failures that are not kept, so that they are not met twice in one run */
  private readonly passing = new Map<string, StepOutcome>()
  private kernelLost = false

  constructor(private readonly options: EvaluateOptions) {
    this.memo = options.memo ?? new Memo()
    this.frames = options.frames ?? this.memo
  }

  async report(plan: readonly Planned[]): Promise<RouteReport> {
    const { signal, onProgress = () => {} } = this.options
    const outcomes = new Map<Planned, StepOutcome>()
    const pull = async (planned: Planned): Promise<StepOutcome> => {
      const outcome = outcomes.get(planned) ?? (await this.pull(planned, signal, onProgress))
      outcomes.set(planned, outcome)
      return outcome
    }
    // from the end: most often the last one stands, and what is to be said of those before it is known
    const wanted = plan.findLast((p) => p.state === 'ready')
    if (wanted) await pull(wanted)
    const steps: StepReport[] = []
    let broken = false
    let last: Planned | undefined
    for (const planned of plan) {
      const { id } = planned.step
      if (broken || planned.state === 'waiting' || planned.state === 'off') {
        steps.push({ id, state: broken ? 'waiting' : planned.state === 'off' ? 'off' : 'waiting', issues: [], ms: 0, reused: false })
        continue
      }
      const key = planned.key ?? ''
      const facts: Facts =
        planned.issue !== undefined
          ? { ok: false, issues: [planned.issue] }
          : (this.storeOf(planned).peek<Facts>(`facts:${key}`) ?? this.factsOf(await pull(planned), key))
      const ms = this.made.get(key) ?? 0
      if (!facts.ok) {
        broken = true
        steps.push({ id, state: 'failed', issues: facts.issues, ms, reused: false, ...(facts.marks ? { marks: facts.marks } : {}) })
        continue
      }
      last = planned
      const { issues, triangles, told, marks, note } = facts
      const outcome = outcomes.get(planned) ?? this.storeOf(planned).peek<StepOutcome>(resultKey(key))
      steps.push({
        id,
        state: issues.some(({ severity }) => severity !== 'note') ? 'warning' : 'sound',
        key,
        gives: planned.gives,
        ...(outcome?.ok ? { value: outcome.value } : {}),
        issues,
        ms,
        reused: !this.made.has(key),
        ...(triangles === undefined ? {} : { triangles }),
        ...(told ? { told } : {}),
        ...(marks ? { marks } : {}),
        ...(note === undefined ? {} : { note }),
      })
    }
    const outcome = last && (await pull(last))
    return {
      steps,
      ...(outcome?.ok ? { value: outcome.value, key: last?.key } : {}),
      complete: !broken,
      ...(this.kernelLost ? { kernelLost: true as const } : {}),
      ms: steps.reduce((sum, step) => sum + step.ms, 0),
    }
  }

  private storeOf(planned: Planned): Memo {
    return planned.moving ? this.frames : this.memo
  }

  /** A step's outcome, kept or made. Where a step before it failed it is that one's. */
  private async pull(planned: Planned, signal: AbortSignal | undefined, tell: Tell): Promise<StepOutcome> {
    const store = this.storeOf(planned)
    const key = resultKey(planned.key as string)
    return (
      store.peek<StepOutcome>(key) ??
      this.passing.get(planned.key as string) ??
      store.share(key, (own, told: Tell) => this.make(planned, own, told), signal, tell)
    )
  }

  private async make(planned: Planned, signal: AbortSignal, tell: Tell): Promise<StepOutcome> {
    const { elsewhere } = this.options
    const key = planned.key as string
    // outlines are not shared: they take a moment
    if (!elsewhere || planned.gives === 'outline') return this.makeHere(planned, signal, tell)
    for (let others = elsewhere.awaited(key); others; others = elsewhere.awaited(key)) {
      tell(planned.step.id, 0)
      await orStopped(others, signal)
      const made = this.storeOf(planned).peek<StepOutcome>(resultKey(key)) ?? this.memo.peek<StepOutcome>(resultKey(key))
      if (made) return made
    }
    const over = elsewhere.begin(key)
    try {
      return await this.makeHere(planned, signal, tell)
    } finally {
      over()
    }
  }

  private async makeHere(planned: Planned, signal: AbortSignal, tell: Tell): Promise<StepOutcome> {
    const key = planned.key as string
    const before = planned.before && (await this.pull(planned.before, signal, tell))
    if (before && !before.ok) return before
    const inputs: Record<string, Value[]> = {}
    const placed: Record<string, PlacedInput[]> = {}
    const ones: StepIssue[] = []
    for (const { name, piece, accepts, planned: input, matrix } of planned.inputs) {
      if (matrix) (placed[name] ??= []).push({ piece, matrix })
      const outcome = await this.pull(input, signal, (_, done, of) => tell(planned.step.id, done, of ?? piece))
      if (!outcome.ok) {
        const { issue, passing } = outcome
        const { code, message, remedy } = pieceFailed(piece, issue)
        return this.keep(planned, { ...failed(code, message, remedy, name), ...(passing ? { passing } : {}) })
      }
      const one = await this.asAccepted(input, outcome.value, accepts, signal)
      if ('ok' in one) {
        const { code, message, remedy } = pieceFailed(piece, one.issue)
        return this.keep(planned, failed(code, message, remedy, name))
      }
      if (one !== outcome.value && outcome.value.kind === 'assembly') ones.push(madeOne(outcome.value, piece))
      ;(inputs[name] ??= []).push(one)
    }
    const begun = performance.now()
    const own = planned.before && before && (await this.asAccepted(planned.before, before.value, planned.kind?.takes ?? [], signal))
    if (own && 'ok' in own) return this.keep(planned, own)
    const worked = await this.evaluate(planned, own, { inputs, placed }, signal, tell)
    if (own !== before?.value && before?.value.kind === 'assembly') ones.unshift(madeOne(before.value))
    if (worked.ok && own && losesPicture(own, worked.value)) ones.push(PICTURE_LOST)
    const outcome = worked.ok && ones.length > 0 ? { ...worked, issues: [...worked.issues, ...ones] } : worked
    this.made.set(key, performance.now() - begun)
    return this.keep(planned, outcome.ok && this.options.share ? this.options.share(key, outcome) : outcome)
  }

  /** A value as a step takes it: an assembly as one solid for a step that needs one; or why that cannot be had. */
  private async asAccepted(
    planned: Planned,
    value: Value,
    accepts: readonly ValueKind[],
    signal: AbortSignal,
  ): Promise<Value | Extract<StepOutcome, { ok: false }>> {
    if (value.kind !== 'assembly' || accepts.includes('assembly') || value.nothingYet) return value
    const store = this.storeOf(planned)
    const key = oneSolidKey(planned.key as string)
    const one =
      store.peek<OneSolid>(key) ??
      (await store.share(
        key,
        async (own) => {
          const made = await asOneSolid(value, breather(own))
          store.put(key, made)
          return made
        },
        signal,
      ))
    if (one.ok) return one.solid
    const { code, message, remedy, places } = one
    return { ok: false, issue: { code, severity: 'failed', message, remedy, ...(places ? { places } : {}) } }
  }

  private async evaluate(
    planned: Planned,
    input: Value | undefined,
    { inputs, placed }: Pick<StepContext, 'inputs' | 'placed'>,
    signal: AbortSignal,
    tell: Tell,
  ): Promise<StepOutcome> {
    const { kind, params, step } = planned
    if (!kind) throw new Error('a step without a kind cannot be made')
    if (input?.nothingYet)
      return {
        ok: true,
        value: emptyOf(givenBy(kind, kind.takes.includes(input.kind) ? input.kind : 'solid', params as Record<string, unknown>), input),
        issues: [],
      }
    const names = Object.keys(inputs)
    const there = names.filter((name) => inputs[name].some(({ nothingYet }) => !nothingYet))
    // what is not there yet takes no part; what is joined with nothing stays as it is
    if (there.length < names.length && input && (kind.family === 'Join' || kind.family === 'Outline')) return { ok: true, value: input, issues: [] }
    const present = Object.fromEntries(there.map((name) => [name, inputs[name].filter(({ nothingYet }) => !nothingYet)]))
    const standing = Object.fromEntries(Object.entries(placed ?? {}).map(([name, list]) => [name, list.filter((_, i) => !inputs[name]?.[i]?.nothingYet)]))
    // whoever waits knows where the work stands, also when it comes to no end
    tell(step.id, 0)
    let share = 0
    try {
      const missing = await bringMaskFiles(params, this.options.assets)
      if (missing) return missing
      return await kind.evaluate(input, params, {
        assets: this.options.assets,
        bakes: this.options.bakes,
        threads: this.options.threads,
        memo: this.memo,
        inputs: present,
        placed: standing,
        settings: planned.settings,
        travel: planned.travel,
        overTime: planned.overTime,
        ...(planned.rough === undefined ? {} : { rough: planned.rough }),
        signal,
        breathe: breather(signal),
        // a step may be worked out by what other steps use as well, which begins from nought for itself
        progress: (done, expected) => tell(step.id, (share = Math.max(share, done)), undefined, expected),
      })
    } catch (error) {
      signal.throwIfAborted()
      if (error instanceof TooMuchWork) return failed('too-much-work', error.message, error.remedy)
      // a fault of ours, or a damaged file that slipped through: it must not take the route or the page down
      if (isKernelFault(error)) this.kernelLost = true
      const message = error instanceof Error ? error.message : String(error)
      return {
        ...failed('internal', `${kind.title} could not be done: ${message}`, 'Change its values, or undo the last change. This is a fault in Kelvar.'),
        passing: true,
      } as StepOutcome
    }
  }

  private keep(planned: Planned, outcome: StepOutcome): StepOutcome {
    if (!outcome.ok && outcome.passing) {
      this.passing.set(planned.key as string, outcome)
      return outcome
    }
    const store = this.storeOf(planned)
    store.put(`facts:${planned.key}`, this.factsOf(outcome, planned.key as string))
    store.put(resultKey(planned.key as string), outcome)
    return outcome
  }

  private factsOf(outcome: StepOutcome, key: string): Facts {
    if (!outcome.ok) return { ok: false, issues: [outcome.issue], ...(outcome.marks ? { marks: outcome.marks } : {}) }
    const { value, issues, told, marks } = outcome
    const note = this.options.note?.(value, key)
    return {
      ok: true,
      issues,
      ...(value.kind === 'solid' ? { triangles: triangleCount(value) } : value.kind === 'assembly' ? { triangles: assemblyTriangles(value) } : {}),
      ...(told ? { told } : {}),
      ...(marks ? { marks } : {}),
      ...(note === undefined ? {} : { note }),
    }
  }
}

/** What is said when copies were made one solid: the step's own, or those of another piece that it takes. */
const madeOne = (assembly: Assembly, piece?: string): StepIssue => {
  const copies = `${copiesIn(assembly).toLocaleString('en')} copies`
  const solid = `one solid of ${assemblyTriangles(assembly).toLocaleString('en')} triangles before copies that meet are united`
  return {
    code: 'made-one',
    severity: 'note',
    message: piece === undefined ? `Works on all ${copies} as ${solid}.` : `Takes all ${copies} of “${piece}” as ${solid}.`,
    remedy:
      piece === undefined
        ? 'To work on each copy by itself, move this step in front of the one that repeats.'
        : 'Fewer copies there, or simpler ones, make this step faster.',
  }
}

/** Whether WASM itself stopped: out of memory, out of bounds, or by its own abort. Its memory cannot be trusted after that. */
const isKernelFault = (error: unknown): boolean => error instanceof Error && (error.name === 'RuntimeError' || error.message.startsWith('Aborted('))

/** Whether a picture that lay on a solid cannot lie on what was made of it. */
const losesPicture = (before: Value, after: Value): boolean =>
  before.kind === 'solid' &&
  after.kind === 'solid' &&
  before.attributes.pictureUv !== undefined &&
  after.attributes.pictureUv === undefined &&
  after.looks.some(({ material }) => material.picture)

const PICTURE_LOST: StepIssue = {
  code: 'picture-lost',
  severity: 'note',
  message: 'The surface is a new one, on which the model’s picture has no place: it is in the picture’s colour on the whole.',
  remedy: 'Dress it, or leave this step out where the picture is wanted.',
}

/** What a step makes of something whose time has not come: as empty as that. */
function emptyOf(gives: ValueKind, nothing: Value): Value {
  if (gives === nothing.kind) return nothing
  const letters = nothing.letters.map((letter) => (typeof letter === 'string' ? letter : letter.text))
  const { lattice } = nothing
  const solid = gives === 'solid' ? joinPlaced([], letters, lattice) : { ...placedUnits([], [], []), letters, lattice }
  return { ...solid, nothingYet: true }
}
