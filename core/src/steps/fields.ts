import { z } from 'zod'
import { type PieceReference, pieceReference } from '../document/piece-reference'
import type { FieldMeta } from './meta'
import type { StepKind } from './step'
import type { ValueKind } from './value'

/** A parameter as its schema describes it: its type and bounds as JSON Schema has them, and its metadata (see meta.ts). */
export interface Field extends Partial<FieldMeta> {
  readonly type?: string
  readonly minimum?: number
  readonly maximum?: number
  readonly enum?: readonly string[]
  readonly default?: unknown
  /** of an object: its own fields */
  readonly properties?: Readonly<Record<string, Field>>
  /** of a list: what it holds */
  readonly items?: { readonly prefixItems?: readonly { readonly minimum?: number; readonly maximum?: number }[] }
}

const known = new WeakMap<StepKind, readonly (readonly [string, Field])[]>()

/** The parameters of a kind of step, in their order; read from its schema once. */
export function fieldsOf(kind: StepKind): readonly (readonly [string, Field])[] {
  let fields = known.get(kind)
  if (!fields) {
    fields = Object.entries((z.toJSONSchema(kind.params, { io: 'input' }) as { properties?: Record<string, Field> }).properties ?? {})
    known.set(kind, fields)
  }
  return fields
}

/** Whether a parameter has a say while the others are as they are. */
export const applies = ({ when }: Field, params: Readonly<Record<string, unknown>>): boolean => !when || when.is.includes(String(params[when.field]))

/** Whether a kind of step measures its mask on the shape at rest. */
export const masksAtRest = (kind: StepKind): boolean => fieldsOf(kind).some(([, { atRest }]) => atRest === true)

/** What a step works with besides what comes before it. */
export interface StepInput {
  /** the parameter that names the pieces, under which the step gets their values */
  readonly name: string
  readonly accepts: readonly ValueKind[]
  /** whether they take part where they stand in the project */
  readonly placed: boolean
  /** those that are chosen, in their order; none where none is */
  readonly references: readonly PieceReference[]
}

/** The inputs of a step as its schema declares them. Those without a say are left out unless `all` are wanted. */
export function inputsOf(kind: StepKind, params: Readonly<Record<string, unknown>>, all = false): StepInput[] {
  return fieldsOf(kind).flatMap(([name, field]): StepInput[] => {
    if (!field.input || (!all && !applies(field, params))) return []
    const given = params[name]
    const references = (Array.isArray(given) ? given : [given]).flatMap((value) => {
      const parsed = pieceReference.safeParse(value)
      return parsed.success && parsed.data.piece ? [parsed.data] : []
    })
    return [{ name, accepts: field.input, placed: field.placed ?? false, references }]
  })
}

/** Values that move as a step can take them: whole numbers where it takes no others, and none beyond its bounds, as an easing may lead there. */
export function heldToFields(kind: StepKind, params: Readonly<Record<string, unknown>>): Record<string, unknown> {
  const out: Record<string, unknown> = { ...params }
  for (const [name, { type, minimum = -Infinity, maximum = Infinity }] of fieldsOf(kind)) {
    const value = out[name]
    if (typeof value !== 'number' || (type !== 'number' && type !== 'integer')) continue
    out[name] = Math.min(maximum, Math.max(minimum, type === 'integer' ? Math.round(value) : value))
  }
  return out
}

/** Every value as the step would take it; those it would refuse replaced by their defaults. */
export function effectiveParams(kind: StepKind, given: Record<string, unknown>): Record<string, unknown> {
  const whole = kind.params.safeParse(given)
  if (whole.success) return whole.data as Record<string, unknown>
  const bad = new Set(whole.error.issues.map((issue) => String(issue.path[0])))
  // a text that is refused is still shown as it is, so that it can be mended
  const kept = Object.fromEntries(Object.entries(given).filter(([name]) => !bad.has(name)))
  const rest = kind.params.safeParse(kept)
  return { ...(rest.success ? (rest.data as Record<string, unknown>) : {}), ...(typeof given.text === 'string' ? { text: given.text } : {}) }
}
