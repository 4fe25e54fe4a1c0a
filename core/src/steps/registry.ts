import { dress } from './dress'
import { extrude } from './extrude'
import { lettering } from './lettering'
import type { StepKind } from './step'

/** Every step there is, in the order the finder shows them. A new step is one folder and one line here. */
export const STEPS: readonly StepKind[] = [lettering, extrude, dress] as readonly StepKind[]

/** The kind of that name, or undefined. */
export function stepKind(kind: string): StepKind | undefined {
  return STEPS.find((step) => step.kind === kind)
}
