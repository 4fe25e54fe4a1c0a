import { z } from 'zod'
import type { FieldMeta } from './meta'
import type { StepKind } from './step'

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
