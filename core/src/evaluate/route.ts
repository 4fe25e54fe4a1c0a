import { z } from 'zod'
import type { Piece, RouteStep } from '../document/schema'
import { triangleCount } from '../solid/solid'
import { stepKind } from '../steps/registry'
import type { AssetSource, StepIssue, StepKind, StepOutcome, StepReference, Value } from '../steps/step'
import { hashJson } from './hash'
import { Memo } from './memo'

export type StepState = 'sound' | 'warning' | 'failed' | 'off' | 'waiting'

/** What one step of a route did. */
export interface StepReport {
  readonly id: string
  readonly state: StepState
  /** content hash of the result: kind, version, parameters and input; equal keys mean equal values */
  readonly key?: string
  readonly value?: Value
  readonly issues: readonly StepIssue[]
  /** milliseconds of work; 0 when the result was kept from before */
  readonly ms: number
  readonly reused: boolean
  readonly triangles?: number
  /** what the step did, in figures */
  readonly told?: string
}

export interface RouteReport {
  readonly steps: readonly StepReport[]
  /** the last good value, and whether the steps after it failed */
  readonly value?: Value
  readonly key?: string
  readonly complete: boolean
  readonly ms: number
}

export interface EvaluateOptions {
  readonly assets: AssetSource
  /** kept between calls: step results and whatever steps keep per glyph */
  readonly memo?: Memo
  readonly signal?: AbortSignal
  /** called with the step's id and 0 to 1, rising */
  readonly onProgress?: (step: string, done: number) => void
  /** stop after the step with this id */
  readonly until?: string
  /** the project's pieces, for steps that work with another one */
  readonly pieces?: readonly Piece[]
  /** the id of the piece that the route makes, so that one which leads back to itself is refused */
  readonly piece?: string
}

/** How long work may go on before other work is let in, ms. */
const SLICE = 12

/**
 * Runs a route step by step. Results are kept under a hash of kind, version, parameters and input, so only what changed
 * is done again. A failing step ends the route with its issue; what came before it stands. Rejects only with the
 * signal's reason when aborted.
 */
export function evaluateRoute(route: readonly RouteStep[], options: EvaluateOptions): Promise<RouteReport> {
  return evaluate(route, options, options.piece === undefined ? [] : [options.piece])
}

/** `behind` holds the pieces that wait for this route, first to last. */
async function evaluate(route: readonly RouteStep[], options: EvaluateOptions, behind: readonly string[]): Promise<RouteReport> {
  const { assets, memo = new Memo(), signal, onProgress, until } = options
  const reports: StepReport[] = []
  let value: Value | undefined
  let key: string | undefined
  let broken = false
  let total = 0
  let sliceEnd = performance.now() + SLICE
  const breathe = async () => {
    signal?.throwIfAborted()
    if (performance.now() < sliceEnd) return
    await nextTask()
    sliceEnd = performance.now() + SLICE
    signal?.throwIfAborted()
  }
  let last = false
  for (const step of route) {
    if (last || broken) {
      reports.push({ id: step.id, state: 'waiting', issues: [], ms: 0, reused: false })
      continue
    }
    last = step.id === until
    if (!step.on) {
      reports.push({ id: step.id, state: 'off', issues: [], ms: 0, reused: false })
      continue
    }
    const begun = performance.now()
    const prepared = prepare(step, value)
    let outcome: StepOutcome
    let stepKey: string | undefined
    let reused = false
    if ('issue' in prepared) outcome = { ok: false, issue: prepared.issue }
    else {
      const { kind, params } = prepared
      let known: StepOutcome | undefined
      try {
        const referred = await follow(kind.refersTo?.(params) ?? [], kind, options, behind)
        signal?.throwIfAborted()
        if ('issue' in referred) outcome = { ok: false, issue: referred.issue }
        else {
          stepKey = hashJson([kind.kind, kind.version, params, kind.takes === 'nothing' ? null : key, ...(referred.keys.length > 0 ? [referred.keys] : [])])
          known = memo.peek<StepOutcome>(`step:${stepKey}`)
          reused = known !== undefined
          outcome =
            known ??
            (await kind.evaluate(value, params, {
              assets,
              memo,
              referred: referred.values,
              breathe,
              progress: (done) => onProgress?.(step.id, done),
            }))
        }
      } catch (error) {
        signal?.throwIfAborted()
        // a fault of ours, or a damaged file that slipped through: it must not take the route or the page down
        outcome = unexpected(kind.title, error)
      }
      if (!known && outcome.ok) memo.put(`step:${stepKey}`, outcome)
    }
    const ms = reused ? 0 : performance.now() - begun
    total += ms
    if (!outcome.ok) {
      broken = true
      reports.push({ id: step.id, state: 'failed', issues: [outcome.issue], ms, reused: false })
      continue
    }
    value = outcome.value
    key = stepKey
    reports.push({
      id: step.id,
      state: outcome.issues.length > 0 ? 'warning' : 'sound',
      key,
      value,
      issues: outcome.issues,
      ms,
      reused,
      ...(value.kind === 'solid' ? { triangles: triangleCount(value) } : {}),
      ...(outcome.told ? { told: outcome.told } : {}),
    })
  }
  return { steps: reports, value, key, complete: !broken, ms: total }
}

/** The values that a step refers to, each made by its piece's own route; or why one cannot be had. */
async function follow(
  references: readonly StepReference[],
  kind: StepKind,
  options: EvaluateOptions,
  behind: readonly string[],
): Promise<{ values: Value[]; keys: string[] } | { issue: StepIssue }> {
  const values: Value[] = []
  const keys: string[] = []
  const { pieces = [] } = options
  const nameOf = (id: string) => `“${pieces.find((p) => p.id === id)?.name ?? id}”`
  const refuse = (code: string, message: string, remedy: string) => ({ issue: { code, severity: 'failed' as const, message, remedy } })
  for (const { piece: id, step, wants } of references) {
    const piece = pieces.find((p) => p.id === id)
    if (!piece) return refuse('piece-gone', `${kind.title} works with a piece that is not in the project.`, 'Choose another piece.')
    if (behind.includes(id)) {
      const ring = [...behind.slice(behind.indexOf(id)), id].map(nameOf)
      return refuse(
        'ring',
        `${ring.slice(0, -1).join(' is made with ')} is made with ${ring[ring.length - 1]}: none of them could ever be done.`,
        'Choose another piece.',
      )
    }
    const report = await evaluate(piece.route, { ...options, until: step, onProgress: undefined }, [...behind, id])
    const fault = report.steps.flatMap((s) => s.issues).find((issue) => issue.severity === 'failed')
    if (fault) return refuse('piece-failed', `The piece ${nameOf(id)} cannot be made: ${fault.message}`, fault.remedy)
    const made = report.steps.findLast((s) => s.value?.kind === wants)
    if (!made?.value || !made.key)
      return refuse('piece-unfit', `The piece ${nameOf(id)} gives no ${wants === 'outline' ? 'outline' : 'solid'}.`, 'Choose another piece.')
    values.push(made.value)
    keys.push(made.key)
  }
  return { values, keys }
}

function unexpected(title: string, error: unknown): StepOutcome {
  const message = error instanceof Error ? error.message : String(error)
  return {
    ok: false,
    issue: {
      code: 'internal',
      severity: 'failed',
      message: `${title} could not be done: ${message}`,
      remedy: 'Change its values, or undo the last change. This is a fault in Kelvar.',
    },
  }
}

type Prepared = { kind: NonNullable<ReturnType<typeof stepKind>>; params: unknown } | { issue: StepIssue }

function prepare(step: RouteStep, value: Value | undefined): Prepared {
  const refuse = (code: string, message: string, remedy: string, field?: string): Prepared => ({
    issue: { code, severity: 'failed', message, remedy, ...(field ? { field } : {}) },
  })
  const kind = stepKind(step.kind)
  if (!kind) return refuse('unknown-step', `This version of Kelvar has no step “${step.kind}”.`, 'Open the project in a newer version, or remove the step.')
  if (kind.takes !== 'nothing') {
    const needs = kind.takes === 'outline' ? 'an outline' : 'a solid'
    if (!value) return refuse('nothing-before', `${kind.title} needs ${needs}, but no step comes before it.`, 'Insert a source such as Lettering first.')
    if (value.kind !== kind.takes)
      return refuse(
        'wrong-input',
        `${kind.title} needs ${needs}, but gets ${value.kind === 'outline' ? 'an outline' : 'a solid'}.`,
        'Move the step on the route, or insert the step that is missing between them.',
      )
  }
  const parsed = kind.params.safeParse(step.params)
  if (!parsed.success) {
    const [issue] = parsed.error.issues
    const field = issue.path.join('.')
    return refuse('bad-value', describeParamIssue(issue, field), 'Put in a value within the stated range.', field)
  }
  return { kind, params: parsed.data }
}

function describeParamIssue(issue: z.core.$ZodIssue, field: string): string {
  return /[.:]$/.test(issue.message) ? issue.message : `${field || 'The step'}: ${issue.message}.`
}

function nextTask(): Promise<void> {
  return new Promise((resolve) => setTimeout(resolve, 0))
}
