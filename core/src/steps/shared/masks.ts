import { masked } from '../../mask/masked'
import { type Mask } from '../../mask/schema'
import { triangleCount } from '../../solid/solid'
import type { StepIssue, StepOutcome } from '../step'
import type { Value } from '../value'
import { solidOf } from './joining'

/** Said where a mask leaves nothing to act on. */
export const MASK_NOWHERE: StepIssue = {
  code: 'mask-nowhere',
  severity: 'warning',
  message: 'The mask is nowhere on this piece: nothing is changed.',
  remedy: 'Look at it in the view, and change its entries or take it away.',
  field: 'mask',
}

/** Said where something was painted on letters that are gone; it comes back with them. */
export const paintedAside = (dabs: number): StepIssue[] =>
  dabs === 0
    ? []
    : [
        {
          code: 'set-aside',
          severity: 'warning',
          message: `${dabs} dab${dabs === 1 ? '' : 's'} of the brush ${dabs === 1 ? 'is' : 'are'} on letters that are gone, and set aside.`,
          remedy: 'They come back with their letters; or take the painted mask away.',
          field: 'mask',
        },
      ]

/** A piece with a mask measured on it, ready for a step that acts by it: `weights` are of its vertices; none where it acts everywhere. */
export function maskedInput(
  input: Value | undefined,
  mask: Mask,
):
  | { readonly nowhere: false; readonly value: Value | undefined; readonly weights?: Float32Array; readonly issues: readonly StepIssue[] }
  | { readonly nowhere: true; readonly value: Value; readonly issues: readonly StepIssue[] } {
  const solid = solidOf(input)
  if (!solid || mask.list.length === 0 || triangleCount(solid) === 0) return { nowhere: false, value: input, issues: [] }
  const { solid: fine, weights, aside } = masked(solid, mask)
  const issues = paintedAside(aside)
  return weights.every((w) => w === 0) ? { nowhere: true, value: solid, issues: [MASK_NOWHERE, ...issues] } : { nowhere: false, value: fine, weights, issues }
}

/** An outcome with what else there is to say, where it succeeded. */
export const alsoSaid = (outcome: StepOutcome, issues: readonly StepIssue[]): StepOutcome =>
  outcome.ok && issues.length > 0 ? { ...outcome, issues: [...outcome.issues, ...issues] } : outcome
