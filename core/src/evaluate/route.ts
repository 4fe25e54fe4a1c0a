import { z } from 'zod'
import type { RouteStep } from '../document/schema'
import { triangleCount } from '../solid/solid'
import { stepKind } from '../steps/registry'
import type { AssetSource, StepIssue, StepOutcome, Value } from '../steps/step'
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
}

/** How long work may go on before other work is let in, ms. */
const SLICE = 12

/**
 * Runs a route step by step. Results are kept under a hash of kind, version, parameters and input, so only what changed
 * is done again. A failing step ends the route with its issue; what came before it stands. Rejects only with the
 * signal's reason when aborted.
 */
export async function evaluateRoute(route: readonly RouteStep[], options: EvaluateOptions): Promise<RouteReport> {
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
      stepKey = hashJson([kind.kind, kind.version, params, kind.takes === 'nothing' ? null : key])
      const known = memo.peek<StepOutcome>(`step:${stepKey}`)
      reused = known !== undefined
      try {
        outcome =
          known ??
          (await kind.evaluate(value, params, {
            assets,
            memo,
            breathe,
            progress: (done) => onProgress?.(step.id, done),
          }))
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
    })
  }
  return { steps: reports, value, key, complete: !broken, ms: total }
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
