import { type Field, fieldsOf } from '../steps/fields'
import { plain } from '../steps/meta'
import { stepKind } from '../steps/registry'
import { cutText } from '../document/words'
import type { Piece, ProjectDocument, RouteStep } from '../document/schema'

/** Texts longer than this are cut in what is said of them. */
const MOST_LETTERS = 40

/**
 * What has changed between two versions of a project, in words, in the order of the pieces and their steps: "Words · Extrude:
 * depth 12 → 14 mm". Empty when nothing has. Values a person cannot read as one, such as drawn curves, are only said to have
 * changed.
 */
export function differences(before: ProjectDocument, after: ProjectDocument): string[] {
  const said: string[] = []
  if (before.name !== after.name) said.push(`Name of the project “${before.name}” → “${after.name}”`)
  const several = before.pieces.length > 1 || after.pieces.length > 1
  for (const piece of before.pieces) if (!after.pieces.some((p) => p.id === piece.id)) said.push(`“${piece.name}” removed`)
  for (const piece of after.pieces) {
    const old = before.pieces.find((p) => p.id === piece.id)
    if (!old) said.push(`“${piece.name}” added`)
    else said.push(...pieceDifferences(old, piece).map((words) => (several ? `${piece.name} · ${words}` : words)))
  }
  if (moved(before.pieces, after.pieces)) said.push('Pieces in another order')
  const [then, now] = [before.time, after.time]
  if (now && (then?.rate !== now.rate || then.frames !== now.frames)) said.push(`Time: ${now.frames} frames, ${plain(now.rate)} a second`)
  if (!same(before.camera, after.camera)) said.push(after.camera ? 'Camera moves otherwise' : 'Camera stands still')
  if (!same(then?.sound, now?.sound)) said.push(now?.sound ? `Sound “${now.sound.name}”` : 'Sound taken away')
  if (!same(then?.markers ?? [], now?.markers ?? [])) said.push('Markers changed')
  return said
}

function pieceDifferences(before: Piece, after: Piece): string[] {
  if (before === after) return []
  const said: string[] = []
  if (before.name !== after.name) said.push(`name “${before.name}” → “${after.name}”`)
  if (!same(before.place, after.place)) said.push('moved to another place')
  if (!same(before.tracks, after.tracks)) said.push('its place moves otherwise')
  if ((before.hidden ?? false) !== (after.hidden ?? false)) said.push(after.hidden ? 'hidden' : 'shown')
  said.push(...routeDifferences(before.route, after.route))
  if (!same(before.board, after.board)) said.push('drawing board changed')
  if (!same(before.tryOuts, after.tryOuts)) said.push('try-outs changed')
  return said
}

/** The same for a route alone. */
export function routeDifferences(before: readonly RouteStep[], after: readonly RouteStep[]): string[] {
  const said: string[] = []
  for (const step of before) if (!after.some((s) => s.id === step.id)) said.push(`${titleOf(step)} removed`)
  for (const step of after) {
    const old = before.find((s) => s.id === step.id)
    if (!old) said.push(`${titleOf(step)} inserted`)
    else said.push(...stepDifferences(old, step))
  }
  if (moved(before, after)) said.push('steps in another order')
  return said
}

function stepDifferences(before: RouteStep, after: RouteStep): string[] {
  if (before === after) return []
  const title = titleOf(after)
  if (before.kind !== after.kind) return [`${titleOf(before)} changed into ${title}`]
  const said: string[] = []
  if (before.on !== after.on) said.push(`${title} switched ${after.on ? 'on' : 'off'}`)
  const kind = stepKind(after.kind)
  const fields: Readonly<Record<string, Field>> = kind ? Object.fromEntries(fieldsOf(kind)) : {}
  // in the order of the step's form
  for (const name of new Set([...Object.keys(fields), ...Object.keys(before.params), ...Object.keys(after.params)])) {
    const field = fields[name] ?? {}
    const [old, value] = [before.params[name] ?? field.default, after.params[name] ?? field.default]
    said.push(...valueDifferences(wordsOf(name, field), field, old, value, 0).map((words) => `${title}: ${words}`))
  }
  for (const path of new Set([...Object.keys(before.tracks ?? {}), ...Object.keys(after.tracks ?? {})])) {
    const [old, now] = [before.tracks?.[path], after.tracks?.[path]]
    if (same(old, now)) continue
    const name = path === 'on' ? 'switch' : wordsOf(path.split('.')[0], fields[path.split('.')[0]] ?? {})
    const keys = now && `${now.keys.length} key${now.keys.length === 1 ? '' : 's'}`
    said.push(`${title}: ${name} ${!now ? 'stands still' : !old ? `moves, ${keys}` : `moves otherwise, ${keys}`}`)
  }
  return said
}

function valueDifferences(name: string, field: Field, before: unknown, after: unknown, depth: number): string[] {
  if (same(before, after)) return []
  const [old, value] = [inWords(before, field), inWords(after, field)]
  if (old !== undefined && value !== undefined) return [`${name} ${old} → ${value}${field.unit && typeof after === 'number' ? ` ${field.unit}` : ''}`]
  if (depth === 0 && isRecord(before) && isRecord(after)) {
    const inner = Object.keys({ ...before, ...after }).flatMap((key) => {
      const part = field.properties?.[key] ?? {}
      return valueDifferences(`${name} ${wordsOf(key, part)}`, part, before[key] ?? part.default, after[key] ?? part.default, 1)
    })
    if (inner.length > 0 && inner.length <= 4) return inner
  }
  return [`${name} changed`]
}

/** A value as one reads it; undefined for what is not one number, word or choice. */
function inWords(value: unknown, { enum: choices, labels }: Field): string | undefined {
  if (typeof value === 'number') return plain(value)
  if (typeof value === 'boolean') return value ? 'on' : 'off'
  if (typeof value === 'string') {
    const choice = choices?.indexOf(value) ?? -1
    if (choice >= 0) return (labels?.[choice] ?? value).toLowerCase()
    return `“${cutText(value.replace(/\s+/g, ' '), MOST_LETTERS)}”`
  }
  // a file or a piece is known by its name
  if (isRecord(value) && typeof value.name === 'string' && 'sha256' in value) return value.name
  return undefined
}

const wordsOf = (name: string, field: Field) => (field.title ?? name.replace(/([A-Z])/g, ' $1')).toLowerCase()
const titleOf = (step: RouteStep) => stepKind(step.kind)?.title ?? step.kind
const isRecord = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null && !Array.isArray(value)

/** Equal as JSON, whatever the order of keys. */
function same(a: unknown, b: unknown): boolean {
  if (a === b) return true
  if (Array.isArray(a) && Array.isArray(b)) return a.length === b.length && a.every((item, i) => same(item, b[i]))
  if (!isRecord(a) || !isRecord(b)) return false
  return Object.keys({ ...a, ...b }).every((key) => same(a[key], b[key]))
}

/** Whether what both lists have stands in another order in them. */
function moved(before: readonly { id: string }[], after: readonly { id: string }[]): boolean {
  const kept = before.filter(({ id }) => after.some((b) => b.id === id))
  const now = after.filter(({ id }) => before.some((a) => a.id === id))
  return kept.some(({ id }, i) => now[i].id !== id)
}
