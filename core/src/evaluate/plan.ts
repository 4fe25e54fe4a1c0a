import type { z } from 'zod'
import { hashJson } from '../cache/hash'
import type { ParamsAtMoment } from '../document/moment'
import { relativePlace, UNMOVED_PLACE } from '../document/place'
import { type Travel, travelOf } from '../document/travel'
import type { Piece, Place, RouteStep } from '../document/schema'
import type { OverTime } from '../motion/over-time'
import type { Matrix } from '../solid/operations'
import { pieceReference } from '../document/piece-reference'
import { fieldsOf, heldToFields, inputsOf, type StepInput } from '../steps/fields'
import { mayGive, stepKind } from '../steps/registry'
import { givenBy, type StepIssue, type StepKind } from '../steps/step'
import { oneOf, serves, VALUE_WORDS, type ValueKind } from '../steps/value'

/** What is known of a step before anything is made. */
export interface Planned {
  readonly step: RouteStep
  /** 'ready' has a key; 'wrong' an issue; 'waiting' steps stand behind one that is wrong or behind the last that is wanted */
  readonly state: 'ready' | 'wrong' | 'off' | 'waiting'
  readonly issue?: StepIssue
  readonly kind?: StepKind
  readonly params?: unknown
  /** content hash of what it will give */
  readonly key?: string
  readonly gives?: ValueKind
  /** it is another at other moments, or made of something that is */
  readonly moving: boolean
  /** the step whose value it works on; none for sources */
  readonly before?: Planned
  readonly inputs: readonly PlannedInput[]
  /** values of other pieces' steps that it follows, by the parameter that names the piece */
  readonly settings?: Readonly<Record<string, { readonly params: unknown; readonly size: number }>>
  /** how its piece moves about, where it follows that */
  readonly travel?: Travel
  /** how its values go that it is made of over time */
  readonly overTime?: Readonly<Record<string, OverTime>>
  /** how many times as coarse as asked it is made */
  readonly rough?: number
}

/** A value that a step gets from another piece. */
export interface PlannedInput {
  readonly name: string
  /** what the piece is called */
  readonly piece: string
  readonly accepts: readonly ValueKind[]
  readonly planned: Planned
  /** brings it into the own piece's coordinates, where it takes part at its place */
  readonly matrix?: Matrix
}

export interface PlanOptions {
  readonly pieces: readonly Piece[]
  /** the pieces that wait for this route, first to last */
  readonly behind: readonly string[]
  /** where the route's own piece stands */
  readonly place?: Place
  /** what of that moves, and in how many frames a second */
  readonly tracks?: Piece['tracks']
  readonly rate?: number
  readonly until?: string
  readonly wants?: ValueKind
  /** for a first sight, steps that can be made coarser are, so many times */
  readonly rough?: number
  readonly paramsAt: (step: RouteStep) => ParamsAtMoment
}

/** The keys of a route's steps and of what they are made with, from parameters and references alone; nothing is made. */
export function planRoute(route: readonly RouteStep[], options: PlanOptions): Planned[] {
  return plan(route, options, new Map())
}

function plan(route: readonly RouteStep[], options: PlanOptions, pieces: Map<string, Planned[]>): Planned[] {
  const planned: Planned[] = []
  let before: Planned | undefined
  let ended = false
  for (const step of route) {
    if (ended) planned.push({ step, state: 'waiting', moving: false, inputs: [] })
    else if (!options.paramsAt(step).on) planned.push({ step, state: 'off', moving: false, inputs: [] })
    else {
      const next = planStep(step, before, options, pieces)
      planned.push(next)
      if (next.state === 'ready') before = next
      else ended = true
    }
    if (step.id === options.until) ended = true
  }
  if (options.wants) {
    const last = planned.findLastIndex((p) => p.gives === options.wants)
    return planned.map((p, i) => (i > last && p.state !== 'off' ? { step: p.step, state: 'waiting', moving: false, inputs: [] } : p))
  }
  return planned
}

function planStep(step: RouteStep, before: Planned | undefined, options: PlanOptions, pieces: Map<string, Planned[]>): Planned {
  const wrong = (code: string, message: string, remedy: string, field?: string): Planned => ({
    step,
    state: 'wrong',
    issue: { code, severity: 'failed', message, remedy, ...(field ? { field } : {}) },
    moving: false,
    inputs: [],
  })
  const kind = stepKind(step.kind)
  if (!kind) return wrong('unknown-step', `This version of Kelvar has no step “${step.kind}”.`, 'Open the project in a newer version, or remove the step.')
  if ((step.version ?? 1) > kind.version)
    return wrong(
      'newer-step',
      `${kind.title} was set in a newer Kelvar (version ${step.version} of the step; this one has ${kind.version}).`,
      'Open the project in the newer version. Nothing in it has been changed.',
    )
  const source = kind.takes.length === 0
  if (!source && !before?.gives)
    return wrong('nothing-before', `${kind.title} needs ${oneOf(kind.takes)}, but no step comes before it.`, 'Insert a source such as Lettering first.')
  if (!source && before?.gives && !serves(before.gives, kind.takes))
    return wrong(
      'wrong-input',
      `${kind.title} needs ${oneOf(kind.takes)}, but gets ${VALUE_WORDS[before.gives].one}.`,
      'Move the step on the route, or insert the step that is missing between them.',
    )
  const overTime = overTimeOf(kind, step, options.rate)
  const { params: given, moving: ownMoving } = apartFromThose(step, options.paramsAt(step), overTime)
  const parsed = kind.params.safeParse(ownMoving ? heldToFields(kind, given) : given)
  if (!parsed.success) {
    const [issue] = parsed.error.issues
    const field = issue.path.join('.')
    return wrong('bad-value', describeParamIssue(issue, field), 'Put in a value within the stated range.', field)
  }
  const inputs: PlannedInput[] = []
  for (const { name, accepts, placed, references } of inputsOf(kind, parsed.data as Record<string, unknown>)) {
    for (const reference of references) {
      const found = follow(reference, { name, accepts, placed }, kind, options, pieces)
      if ('issue' in found) return { step, state: 'wrong', issue: found.issue, moving: false, inputs: [] }
      inputs.push(found)
    }
  }
  const settings: Record<string, { params: unknown; size: number }> = {}
  let settingsMove = false
  for (const [name, { settingsOf }] of fieldsOf(kind)) {
    if (!settingsOf) continue
    const found = followSettings((parsed.data as Record<string, unknown>)[name], name, settingsOf, kind, options)
    if (!found) continue
    if ('issue' in found) return { step, state: 'wrong', issue: found.issue, moving: false, inputs: [] }
    settings[name] = { params: found.params, size: found.size }
    settingsMove ||= found.moving
  }
  const followed = kind.follows?.(parsed.data as never, Object.fromEntries(Object.entries(settings).map(([name, { params }]) => [name, params]))) ?? []
  for (const { name, accepts, piece, before: upTo, unlessWaiting } of followed) {
    if (unlessWaiting && options.behind.includes(piece)) continue
    const found = follow(upTo ? beforeStep(piece, upTo, options) : { piece }, { name, accepts, placed: true }, kind, options, pieces)
    if ('issue' in found) return { step, state: 'wrong', issue: found.issue, moving: false, inputs: [] }
    inputs.push(found)
  }
  const own = source ? undefined : before
  const travel = kind.travels?.(parsed.data as never) ? travelOf(options.place, options.tracks, options.rate) : undefined
  const rough = kind.roughly && options.rough !== undefined && options.rough !== 1 ? options.rough : undefined
  const keyed = inputs.map(({ name, planned, matrix }) => [name, planned.key, ...(matrix ? [matrix] : [])])
  return {
    step,
    state: 'ready',
    kind,
    params: parsed.data,
    key: hashJson([
      kind.kind,
      kind.version,
      parsed.data,
      own?.key ?? null,
      ...(keyed.length > 0 ? [keyed] : []),
      ...(Object.keys(settings).length > 0 ? [settings] : []),
      ...(travel ? [travel] : []),
      ...(overTime ? [{ overTime }] : []),
      ...(rough === undefined ? [] : [{ rough }]),
    ]),
    gives: givenBy(kind, own?.gives, parsed.data as Record<string, unknown>),
    moving: ownMoving || settingsMove || (own?.moving ?? false) || inputs.some(({ planned }) => planned.moving),
    ...(own ? { before: own } : {}),
    inputs,
    settings,
    ...(travel ? { travel } : {}),
    ...(overTime ? { overTime } : {}),
    ...(rough === undefined ? {} : { rough }),
  }
}

/** The ways over time that a step is made of; undefined where it is of none, or nothing is said of time. */
function overTimeOf(kind: StepKind, { tracks }: RouteStep, rate: number | undefined): Record<string, OverTime> | undefined {
  if (!kind.overTime || !tracks || rate === undefined) return undefined
  const keyed = kind.overTime.filter((name) => tracks[name])
  if (keyed.length === 0) return undefined
  const fields = new Map(fieldsOf(kind))
  const one = (name: string): OverTime => {
    const { minimum = -Infinity, maximum = Infinity } = fields.get(name) ?? {}
    return { track: tracks[name], rate, least: minimum, most: maximum }
  }
  return Object.fromEntries(keyed.map((name) => [name, one(name)]))
}

/** What a step's values are at a moment, but for those that it is made of over time: they are as they were set. */
function apartFromThose({ params, tracks }: RouteStep, now: ParamsAtMoment, overTime: Readonly<Record<string, OverTime>> | undefined): ParamsAtMoment {
  if (!overTime) return now
  const { params: given, on } = now
  const still = Object.fromEntries(Object.entries(given).filter(([name]) => !overTime[name]))
  for (const name of Object.keys(overTime)) if (name in params) still[name] = params[name]
  return { params: still, on, moving: now.moving && Object.keys(tracks ?? {}).some((path) => !overTime[path]) }
}

/** The step of a piece that stands before its last of a kind. */
function beforeStep(id: string, kind: string, { pieces, paramsAt }: PlanOptions): { readonly piece: string; readonly step?: string } {
  const route = pieces.find((p) => p.id === id)?.route.filter((s) => paramsAt(s).on) ?? []
  const at = route.findLastIndex((s) => s.kind === kind)
  return { piece: id, ...(at > 0 ? { step: route[at - 1].id } : {}) }
}

/** The values of another piece's step that are followed; undefined where none has been chosen, or why there are none. */
function followSettings(
  given: unknown,
  field: string,
  settingsOf: string,
  kind: StepKind,
  { pieces, place, paramsAt }: PlanOptions,
): { readonly params: unknown; readonly size: number; readonly moving: boolean } | { readonly issue: StepIssue } | undefined {
  const reference = pieceReference.safeParse(given)
  if (!reference.success || !reference.data.piece) return undefined
  const refuse = (code: string, message: string) => ({ issue: { code, severity: 'failed' as const, message, remedy: 'Choose another piece.', field } })
  const piece = pieces.find((p) => p.id === reference.data.piece)
  if (!piece) return refuse('piece-gone', `${kind.title} works with a piece that is not in the project.`)
  const followed = stepKind(settingsOf)
  const step = piece.route.findLast((s) => s.kind === settingsOf && paramsAt(s).on)
  if (!step || !followed) return refuse('piece-unfit', `The piece “${piece.name}” has no step ${followed?.title ?? settingsOf}.`)
  const { params, moving } = paramsAt(step)
  const parsed = followed.params.safeParse(params)
  if (!parsed.success) return refuse('piece-failed', `The step ${followed.title} of “${piece.name}” has a value that cannot be used.`)
  return { params: parsed.data, size: (piece.place?.size ?? 1) / (place?.size ?? 1), moving }
}

/** The step of another piece whose value is meant; or why there is none. */
function follow(
  { piece: id, step }: { readonly piece: string; readonly step?: string },
  { name, accepts, placed }: Omit<StepInput, 'references'>,
  kind: StepKind,
  options: PlanOptions,
  pieces: Map<string, Planned[]>,
): PlannedInput | { readonly issue: StepIssue } {
  const nameOf = (of: string) => `“${options.pieces.find((p) => p.id === of)?.name ?? of}”`
  const refuse = (code: string, message: string, remedy: string) => ({ issue: { code, severity: 'failed' as const, message, remedy, field: name } })
  const piece = options.pieces.find((p) => p.id === id)
  if (!piece) return refuse('piece-gone', `${kind.title} works with a piece that is not in the project.`, 'Choose another piece.')
  if (options.behind.includes(id)) {
    const ring = [...options.behind.slice(options.behind.indexOf(id)), id].map(nameOf)
    return refuse(
      'ring',
      `${ring.slice(0, -1).join(' is made with ')} is made with ${ring[ring.length - 1]}: none of them could ever be done.`,
      'Choose another piece.',
    )
  }
  const cached = `${id} ${step ?? ''}`
  let planned = pieces.get(cached)
  if (!planned) {
    planned = plan(
      piece.route,
      { ...options, until: step, wants: undefined, behind: [...options.behind, id], place: piece.place, tracks: piece.tracks },
      pieces,
    )
    pieces.set(cached, planned)
  }
  const wrong = planned.findIndex((p) => p.state === 'wrong')
  const found = planned.findLast((p) => p.gives !== undefined && serves(p.gives, accepts))
  // what stands before a step that is wrong is not what was meant, if that step or one behind it would have given such a value
  const hidden = wrong >= 0 && planned.slice(wrong).some(({ step: { on, kind: of } }) => on && mayGive(of, accepts))
  const fault = planned[wrong]?.issue
  if (fault && (hidden || !found)) {
    const said = pieceFailed(piece.name, fault)
    return refuse(said.code, said.message, said.remedy)
  }
  if (found) {
    const matrix = placed ? relativePlace(options.place ?? UNMOVED_PLACE, piece.place ?? UNMOVED_PLACE) : undefined
    return { name, piece: piece.name, accepts, planned: found, ...(matrix ? { matrix } : {}) }
  }
  return refuse('piece-unfit', `The piece ${nameOf(id)} gives no ${accepts.map((a) => VALUE_WORDS[a].name).join(' or ')}.`, 'Choose another piece.')
}

/** What is said at a step when a piece it is made with cannot be made. */
export const pieceFailed = (piece: string, { message, remedy }: Pick<StepIssue, 'message' | 'remedy'>) => ({
  code: 'piece-failed',
  message: `The piece “${piece}” cannot be made: ${message}`,
  remedy,
})

function describeParamIssue(issue: z.core.$ZodIssue, field: string): string {
  return /[.:]$/.test(issue.message) ? issue.message : `${field || 'The step'}: ${issue.message}.`
}
