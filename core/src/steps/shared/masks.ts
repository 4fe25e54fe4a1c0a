import type { z } from 'zod'
import { masked } from '../../mask/masked'
import { type Mask, maskSchema } from '../../mask/schema'
import { meta } from '../meta'
import { triangleCount } from '../../solid/solid'
import type { StepIssue } from '../step'
import type { Value } from '../value'
import { solidOf } from './joining'

/** Where and how strongly a step acts; everywhere, or as some entries say, unless it is changed. */
export const maskOf = (list: z.input<typeof maskSchema>['list'] = []) => maskSchema.prefault({ list }).meta(meta({ title: 'Mask', holds: 'mask' }))

export const maskParam = maskOf()

/** The same for map deformations, which go back to the shape at rest. */
export const maskAtRest = maskParam.meta(meta({ title: 'Mask', holds: 'mask', atRest: true }))

/** Said where a mask leaves nothing to act on. */
export const MASK_NOWHERE: StepIssue = {
  code: 'mask-nowhere',
  severity: 'warning',
  message: 'The mask is nowhere on this piece: nothing is changed.',
  remedy: 'Look at it in the view, and change its entries or take it away.',
  field: 'mask',
}

/** A piece with a mask measured on it, ready for a step that acts by it: `weights` are of its vertices; none where it acts everywhere. */
export function maskedInput(
  input: Value | undefined,
  mask: Mask,
): { readonly nowhere: false; readonly value: Value | undefined; readonly weights?: Float32Array } | { readonly nowhere: true; readonly value: Value } {
  const solid = solidOf(input)
  if (!solid || mask.list.length === 0 || triangleCount(solid) === 0) return { nowhere: false, value: input }
  const { solid: fine, weights } = masked(solid, mask)
  return weights.every((w) => w === 0) ? { nowhere: true, value: solid } : { nowhere: false, value: fine, weights }
}
