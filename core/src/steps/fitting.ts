import type { RouteStep } from '../document/schema'
import { stepKind } from './registry'
import { givenBy, type StepKind } from './step'
import { oneOf, serves, type ValueKind } from './value'

/** The kind of value that stands before each place of a route: entry i is what a step put in at i would get; one entry more than steps. */
export function valuesAlong(route: readonly RouteStep[]): (ValueKind | undefined)[] {
  const values: (ValueKind | undefined)[] = [undefined]
  for (const step of route) {
    const kind = step.on ? stepKind(step.kind) : undefined
    const before = values[values.length - 1]
    values.push(kind ? givenBy(kind, before, step.params) : before)
  }
  return values
}

/** Why a step does not fit where it would get a kind of value, or nothing; undefined when it does. */
export function misfit(kind: StepKind, before: ValueKind | undefined): string | undefined {
  if (kind.takes.length === 0) return before ? 'A source begins a route; it takes nothing from before it.' : undefined
  if (!before) return `Needs ${oneOf(kind.takes)}; nothing comes before it here.`
  return serves(before, kind.takes) ? undefined : `Needs ${oneOf(kind.takes)}; here it would get ${oneOf([before])}.`
}

/** Whether what follows a place can work on what a step there would give. */
function suitsTheRest(kind: StepKind, before: ValueKind | undefined, route: readonly RouteStep[], at: number): boolean {
  const next = route.slice(at).find((step) => step.on && stepKind(step.kind))
  // a source takes nothing: what is put before it would be for nothing
  return !next || serves(givenBy(kind, before), stepKind(next.kind)?.takes ?? [])
}

/**
 * The place nearest to `at` where a step could be put in so that it gets what it needs and what follows it still does too; undefined where
 * there is none.
 */
export function placeFor(kind: StepKind, route: readonly RouteStep[], at: number): number | undefined {
  const values = valuesAlong(route)
  const places = values.map((_, i) => i).filter((i) => !misfit(kind, values[i]) && suitsTheRest(kind, values[i], route, i))
  return places.sort((a, b) => Math.abs(a - at) - Math.abs(b - at) || a - b)[0]
}
