import type { Field } from '@kelvar/core/steps/fields'
import type { StepKind } from '@kelvar/core/steps/step'

/** Whether a parameter has a say while the others are as they are. */
export const applies = ({ when }: Field, params: Readonly<Record<string, unknown>>): boolean => !when || when.is.includes(String(params[when.field]))

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
