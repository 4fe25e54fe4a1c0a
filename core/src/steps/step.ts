import type { z } from 'zod'
import type { BakeStore } from '../cache/bakes'
import type { Memo } from '../cache/memo'
import type { FontFace } from '../font/face'
import type { Picture } from '../format/picture'
import type { Travel } from '../document/travel'
import type { OverTime } from '../motion/over-time'
import type { Threads } from '../parallel/share-out'
import type { Assembly } from '../solid/assembly'
import type { Matrix } from '../solid/operations'
import type { Solid } from '../solid/solid'
import type { Value, ValueKind } from './value'

export type { Value, ValueKind } from './value'

/** What a step has to say: a failure, or something to know about a result that stands. */
export interface StepIssue {
  readonly code: string
  /** a note is of what was done; a warning wants to be looked at */
  readonly severity: 'note' | 'warning' | 'failed'
  /** what is the matter, in plain words */
  readonly message: string
  /** what to do about it */
  readonly remedy: string
  /** where, mm, when it has places: the first few of them */
  readonly places?: readonly (readonly [number, number, number])[]
  /** the parameter it concerns, as a path in the step's params */
  readonly field?: string
  /** remedies that need no trial, one or the other */
  readonly fixes?: readonly Fix[]
}

/** Parameters to set, and what that is called. */
export interface Fix {
  readonly label: string
  readonly params: Readonly<Record<string, unknown>>
}

type Vector = readonly [number, number, number]

/** What the view shows of a step beside its result, in the piece's coordinates, mm. */
export interface StepMarks {
  /** where something is laid on a surface: unit vectors along its line, up and off the surface */
  readonly frame?: { readonly point: Vector; readonly along: Vector; readonly up: Vector; readonly normal: Vector }
  /** what it is wrapped round */
  readonly axis?: { readonly from: Vector; readonly to: Vector; readonly words: string }
  /** what is taken in hand beside the step's main value */
  readonly knobs?: readonly StepKnob[]
  /** lines that show what the knobs belong to */
  readonly lines?: readonly (readonly Vector[])[]
  /** layers of another piece's outline, for the step's own controls */
  readonly layers?: readonly { readonly id: string; readonly name: string; readonly colour?: string }[]
  /** where the origin of what fits into its pocket stands */
  readonly seat?: Vector
}

/** One of a step's values that is taken in hand in the view. */
export interface StepKnob {
  readonly name: string
  readonly title: string
  readonly at: Vector
  /** a number that is moved along a line: mm in space for each of its units */
  readonly line?: { readonly field: string; readonly value: number; readonly unit: string; readonly step: number; readonly way: Vector }
  /** a place, one of the step's values, that is moved anywhere */
  readonly spot?: { readonly field: string; readonly step: number }
  /** an entry of a list, by its place in a cage, that is moved anywhere: its value now, and how much of it is 1 mm to the right, up and forward */
  readonly free?: { readonly field: string; readonly at: Vector; readonly value: Vector; readonly perMm: Vector; readonly step: number }
}

export type StepOutcome =
  | {
      readonly ok: true
      readonly value: Value
      readonly issues: readonly StepIssue[]
      /** what it did, in figures, for the docket: "312 → 84 nodes" */
      readonly told?: string
      /** what the view shows of how it was done */
      readonly marks?: StepMarks
    }
  | {
      readonly ok: false
      readonly issue: StepIssue
      readonly marks?: StepMarks
      /** it may go better the next time, as when a file could not be had; such failures are not kept */
      readonly passing?: boolean
    }

/** Where steps get bytes from: the project's assets by SHA-256. */
export interface AssetSource {
  /** Throws FontError for an unreadable font and MissingAssetError when the project lacks it. */
  font(sha256: string): Promise<FontFace>
  /** The bytes of any other file; throws MissingAssetError when the project lacks it. */
  file(sha256: string): Promise<Uint8Array>
  /** A picture's pixels. Throws FormatError for an unreadable one and MissingAssetError when the project lacks it. */
  picture(sha256: string): Promise<Picture>
}

export class MissingAssetError extends Error {
  constructor(readonly sha256: string) {
    super(`The project lacks the asset ${sha256.slice(0, 12)}….`)
    this.name = 'MissingAssetError'
  }
}

export interface PlacedInput {
  readonly piece: string
  readonly matrix: Matrix
}

export interface StepContext {
  readonly assets: AssetSource
  /** the values of other pieces, by the parameter that names them (see `FieldMeta.input`); those not chosen are not there */
  readonly inputs: Readonly<Record<string, readonly Value[]>>
  /** of parameters whose pieces take part where they stand: what they are called, and what brings each into the own piece's coordinates */
  readonly placed?: Readonly<Record<string, readonly PlacedInput[]>>
  /** of parameters that name a piece whose values are followed: those of its step, and how many times as large that piece's mm are here */
  readonly settings?: Readonly<Record<string, { readonly params: unknown; readonly size: number }>>
  /** how the piece moves about, for steps that follow it (see `StepKind.travels`); undefined where it stands still */
  readonly travel?: Travel
  /** how values that have keys go over time, by their parameters (see `StepKind.overTime`); those without keys are not there */
  readonly overTime?: Readonly<Record<string, OverTime>>
  /** where recordings of simulations are kept; not at all when left out */
  readonly bakes?: BakeStore
  /** so many times as coarse as asked is enough for a first sight of what takes long (see `StepKind.roughly`); as asked when left out */
  readonly rough?: number
  /** given when the result is not wanted any more: for what takes long in one piece and cannot breathe */
  readonly signal?: AbortSignal
  /** other threads that tasks may be done in as well (see steps/tasks.ts); none when left out */
  readonly threads?: Threads
  /** results kept across evaluations, e.g. per glyph */
  readonly memo: Memo
  /** 0 to 1, only rising; with what the work is expected to come to, in words, once that is known and before it is begun */
  progress(done: number, expected?: string): void
  /** Call between pieces of work: lets other work in now and then, and throws the abort reason when cancelled. */
  breathe(): Promise<void>
}

export const FAMILIES = ['Source', 'Outline', 'Form', 'Volume', 'Join', 'Deform', 'Repeat', 'Break', 'Physics', 'Dress'] as const
export type Family = (typeof FAMILIES)[number]

/** One operation on a route. One folder under steps/ defines each; registry.ts lists them. */
export interface StepKind<S extends z.ZodType = z.ZodType> {
  /** its name in documents and on the command line */
  readonly kind: string
  /** raised when the same parameters give another result, or when parameters change (see `migrations`) */
  readonly version: number
  readonly family: Family
  readonly title: string
  /** what it does, one line, for the finder */
  readonly summary: string
  /** the kinds of value it works on; none for sources */
  readonly takes: readonly ValueKind[]
  /** the kind it gives; or which, of the one it gets and its parameters as they are set, which may be bad */
  readonly gives: ValueKind | ((takes: ValueKind, params: Readonly<Record<string, unknown>>) => ValueKind)
  /** every field has a default, so that {} is a valid start; field metadata drives the form (see meta.ts) */
  readonly params: S
  /**
   * Brings parameters of an older version of the step up to the next one, by the older version's number; one that is not there leaves them
   * as they are. They get a copy, which they may change.
   */
  readonly migrations?: Readonly<Record<number, (params: Record<string, unknown>) => Record<string, unknown>>>
  /** whether it can be made coarser and quicker for a first sight (`StepContext.rough`) */
  readonly roughly?: boolean
  /** whether its result follows how its piece moves about, with these parameters */
  readonly travels?: (params: z.infer<S>) => boolean
  /** the parameters that may have keys, where only some may: each other value of a simulation would be another simulation in every frame */
  readonly moves?: readonly string[]
  /** of those the numbers whose whole way over time it is made of, in seconds of the film: a simulation is not another one in every frame for them */
  readonly overTime?: readonly string[]
  /** what it is made with besides, by the values of other pieces' steps that it follows (`settingsOf` in its fields' metadata), by those fields' names */
  readonly follows?: (params: z.infer<S>, settings: Readonly<Record<string, unknown>>) => readonly Followed[]
  /** telling values in words, for the docket: "12 mm deep, chamfer 1.5 mm" */
  describe(params: z.infer<S>): string
  readonly evaluate: Evaluate<S>
  /** what its mask is measured on, of a solid or assembly it works on, where that is something else: nothing where it is not, or cannot be made */
  readonly maskedOn: (value: Solid | Assembly, params: z.infer<S>) => Promise<Solid | undefined>
}

export type Evaluate<S extends z.ZodType = z.ZodType> = (input: Value | undefined, params: z.infer<S>, context: StepContext) => Promise<StepOutcome>

/** The work of a step, which lies in a file of its own: the page knows all steps and does the work of none. */
interface StepWork<S extends z.ZodType> {
  readonly evaluate: Evaluate<S>
  readonly maskedOn?: (value: Solid | Assembly, params: z.infer<S>) => Solid | undefined
}

/** A value of another piece that a step is made with, without naming it in its own parameters. */
export interface Followed {
  /** under which the step gets it; with the place it stands at */
  readonly name: string
  readonly accepts: readonly ValueKind[]
  readonly piece: string
  /** the kind of the step whose input is meant; the piece's end when left out */
  readonly before?: string
  /** whether it is left out where that piece itself waits for this one */
  readonly unlessWaiting?: boolean
}

/** A kind of step, whose work is loaded when it is first asked for. */
export function defineStep<S extends z.ZodType>(kind: Omit<StepKind<S>, keyof StepWork<S>>, load: () => Promise<StepWork<S>>): StepKind<S> {
  return {
    ...kind,
    async evaluate(input, params, context) {
      const work = await load().catch((error: unknown) => notLoaded(kind.title, error))
      return 'evaluate' in work ? work.evaluate(input, params, context) : work
    },
    maskedOn: async (value, params) => (await load()).maskedOn?.(value, params),
  }
}

export const failed = (code: string, message: string, remedy: string, field?: string): Extract<StepOutcome, { ok: false }> => ({
  ok: false,
  issue: { code, severity: 'failed', message, remedy, ...(field ? { field } : {}) },
})

/** As when the server is gone, or another version of Kelvar has taken the place of the one that the page is of. */
const notLoaded = (title: string, error: unknown): StepOutcome => ({
  ...failed(
    'not-loaded',
    `What ${title} is made with could not be loaded (${error instanceof Error ? error.message : String(error)}).`,
    'See that Kelvar is running, and reload the page; nothing is lost.',
  ),
  passing: true,
})

/** A file that the project should carry is not to be had just now: a failure that may pass. */
export const fileMissing = (what: string, field: string): StepOutcome => ({
  ...failed('file-missing', `${what} is not in this project.`, 'Choose the file again.', field),
  passing: true,
})

/** The kind of value a step gives of the kind it gets. */
export const givenBy = (kind: Pick<StepKind, 'gives'>, takes: ValueKind | undefined, params: Readonly<Record<string, unknown>> = {}): ValueKind =>
  typeof kind.gives === 'function' ? kind.gives(takes as ValueKind, params) : kind.gives
