import type { Stage } from '../../deform/composed'
import { type Deformation, mapOf } from '../../deform/deformation'
import { deformedFrom, deformedKey, deformSolid, foldsOf } from '../../deform/deform'
import { type Box, unitBoxes, unitsOf, type UnitsOf } from '../../deform/units'
import { masked } from '../../mask/masked'
import type { Mask } from '../../mask/schema'
import { type Solid, triangleCount, vertexCount } from '../../solid/solid'
import { plain } from '../meta'
import { failed, type StepContext, type StepIssue, type StepKnob, type StepMarks, type StepOutcome } from '../step'
import { lengthOf } from './axes'
import type { Value } from '../value'
import { solidOf } from './joining'
import { MASK_NOWHERE, paintedAside } from './masks'

export interface DeformParams {
  readonly each: UnitsOf
  readonly strength: number
  readonly mask: Mask
  readonly within: number
}

interface DeformInStep {
  readonly title: string
  readonly params: DeformParams
  /** the deformation of what lies in a box, at a share of its full amount */
  readonly by: (box: Box, share: number) => Deformation | undefined
  /** the parameter that makes it strong, and its value */
  readonly main: {
    readonly field: string
    readonly value: number
    readonly unit: string /** what stands for a share of the full amount; that share of the value when left out */
    readonly at?: (share: number) => number
  }
  readonly more?: readonly StepIssue[]
  /** what else is taken in hand, where the piece is taken whole: shares of its length at which something lies */
  readonly shares?: readonly Share[]
  /** the view's marks of another kind, by the piece's box */
  readonly marks?: (box: Box) => StepMarks
}

/** A parameter that says where along the piece something lies, %. */
interface Share {
  readonly field: string
  readonly title: string
  readonly value: number
  readonly axis: 0 | 1 | 2
}

const SEVERAL: readonly UnitsOf[] = ['word', 'letter']

/**
 * Runs a deformation for a step. Deformations that follow on each other are one map of the shape before the first of them, refined once; masks are
 * measured on that shape, at rest. Where the map would fold, the step says where, and how much of it does not.
 */
export async function deformInStep(
  input: Value | undefined,
  context: StepContext,
  { title, params, by, main, more: told = [], shares = [], marks: otherMarks }: DeformInStep,
): Promise<StepOutcome> {
  const solid = solidOf(input)
  if (!solid) return failed('no-solid', `${title} needs a solid to work on.`, 'Put a form such as Extrude, or a Block, before it.')
  if (triangleCount(solid) === 0) return failed('empty', 'The piece is empty: there is nothing to work on.', 'Look at the steps before this one.')
  const known = params.mask.live ? undefined : deformedFrom(solid)
  let base = known?.from ?? solid
  let stages: readonly Stage[] = known?.stages ?? []
  const unit = unitsOf(solid, params.each)
  let units = SEVERAL.includes(params.each) ? unitsOf(base, params.each) : undefined
  // letters that flow together may be told apart otherwise once they are finer
  if (units && units.count !== unit.count) {
    base = solid
    stages = []
    units = unit
  }
  const boxes = unitBoxes(solid.positions, unit.unit, unit.count)
  let weights: Float32Array | undefined
  let more = told
  if (params.mask.list.length > 0) {
    const { solid: fine, weights: measured, ends, aside } = masked(base, params.mask)
    more = [...told, ...paintedAside(aside)]
    if (measured.every((w) => w === 0)) return { ok: true, value: solid, issues: [MASK_NOWHERE, ...more] }
    stages = stages.map((stage) => extended(stage, vertexCount(base), ends))
    if (units) units = { ...units, unit: extendedUnits(units.unit, ends) }
    base = { ...fine, attributes: { ...fine.attributes, weight: measured } }
    weights = measured
  } else if (base.attributes.weight) {
    const { weight: _, ...attributes } = base.attributes
    base = { ...base, attributes }
  }
  const stageAt = (share: number): Stage | undefined => {
    const list = boxes.map((box) => by(box, share))
    if (list.some((one) => !one)) return undefined
    return { by: list as Deformation[], strength: params.strength / 100, ...(units ? { units: units.unit } : {}), ...(weights ? { weights } : {}) }
  }
  const stage = stageAt(1)
  const marks = params.each === 'whole' ? (otherMarks?.(boxes[0]) ?? shareMarks(shares, boxes[0], stage?.by[0])) : undefined
  // nothing to do leaves the piece as it is, bit for bit
  if (!stage || params.strength === 0) return { ok: true, value: solid, issues: more, marks }
  const all = [...stages, stage]
  context.progress(0.2)
  const done = await deformSolid(base, all, { tolerance: params.within, breathe: () => context.breathe(), memo: context.memo })
  if (done.ok)
    return {
      ok: true,
      value: { ...done.solid, deformed: { from: base, stages: all, key: deformedKey(done.solid) } },
      issues: more,
      marks,
      told: `${triangleCount(done.solid).toLocaleString('en')} triangles${all.length > 1 ? `, with ${all.length - 1} before it as one` : ''}`,
    }
  if (done.why === 'too-much')
    return failed('too-much', 'So exact a surface would need more than a million triangles here.', 'Make the tolerance larger, under More.', 'within')
  const nearest = done.why === 'folds' ? largestWithoutFold(base, stages, stageAt) : 0
  const value = nearest === 0 ? 0 : main.at ? main.at(nearest) : rounded(main.value * nearest)
  return {
    ok: false,
    marks,
    issue:
      done.why === 'folds'
        ? {
            code: 'folds',
            severity: 'failed',
            message: weights
              ? `${title} turns the piece inside out here: it is too much where the mask is so steep, or tighter than the piece is deep.`
              : `${title} turns the piece inside out here: it is tighter than the piece is deep.`,
            remedy:
              value !== 0
                ? `The nearest that does not is ${plain(value)}${main.unit}. The places are shown in the view.`
                : `The places are shown in the view. Make it weaker, or ${weights ? 'the mask softer' : 'the piece thinner'}.`,
            places: done.places,
            field: main.field,
            ...(value !== 0 ? { fixes: [{ label: `Take ${plain(value)}${main.unit}`, params: { [main.field]: value } }] } : {}),
          }
        : {
            code: 'crosses',
            severity: 'failed',
            message: 'Parts of the piece come to lie in each other here.',
            remedy: `Make it weaker, or take ${params.each === 'whole' ? 'each letter by itself' : 'the whole piece'}. The places are shown in the view.`,
            places: done.places,
            field: main.field,
          },
  }
}

/** Knobs at the far side of the piece's box, where the deformation takes them, and the cuts through it that they stand for. */
function shareMarks(shares: readonly Share[], box: Box, deformation: Deformation | undefined): StepMarks | undefined {
  if (shares.length === 0) return undefined
  const map = deformation ? mapOf(deformation) : () => {}
  const mapped = (at: readonly number[]): [number, number, number] => {
    const p = Float64Array.from(at)
    map(p, 0)
    return [p[0], p[1], p[2]]
  }
  const knobs: StepKnob[] = []
  const lines: [number, number, number][][] = []
  for (const { field, title, value, axis } of shares) {
    const perUnit = lengthOf(box, axis) / 100
    const place = box[axis] + perUnit * value
    const [i, j] = [0, 1, 2].filter((k) => k !== axis)
    const corner = (a: number, b: number, at = place) => {
      const p = [0, 0, 0]
      ;[p[axis], p[i], p[j]] = [at, a, b]
      return p
    }
    const at = mapped(corner(box[i], box[j + 3]))
    const ahead = mapped(corner(box[i], box[j + 3], place + 1e-3))
    knobs.push({
      name: field,
      title,
      at,
      line: { field, value, unit: '%', step: 5, way: [0, 1, 2].map((k) => ((ahead[k] - at[k]) / 1e-3) * perUnit) as [number, number, number] },
    })
    lines.push(
      [
        [box[i], box[j]],
        [box[i + 3], box[j]],
        [box[i + 3], box[j + 3]],
        [box[i], box[j + 3]],
        [box[i], box[j]],
      ].map(([a, b]) => mapped(corner(a, b))),
    )
  }
  return { knobs, lines }
}

/** Toward nought, so that what is offered holds. */
const rounded = (value: number): number => {
  const digits = 10 ** (2 - Math.floor(Math.log10(Math.abs(value) || 1)))
  return Math.trunc(value * digits) / digits
}

const HALVINGS = 9

function largestWithoutFold(base: Solid, stages: readonly Stage[], stageAt: (share: number) => Stage | undefined): number {
  let [low, high] = [0, 1]
  for (let i = 0; i < HALVINGS; i++) {
    const share = (low + high) / 2
    const stage = stageAt(share)
    if (!stage || foldsOf(base, [...stages, stage]).length === 0) low = share
    else high = share
  }
  // a little less: what only just does not fold is squeezed to nothing
  return 0.97 * low
}

/** A stage for a surface that got vertices midway between two others. */
function extended(stage: Stage, count: number, ends: Int32Array): Stage {
  return {
    ...stage,
    ...(stage.units ? { units: extendedUnits(stage.units, ends) } : {}),
    ...(stage.weights ? { weights: extendedWeights(stage.weights, count, ends) } : {}),
  }
}

function extendedUnits(units: Int32Array, ends: Int32Array): Int32Array {
  const out = new Int32Array(units.length + ends.length / 2)
  out.set(units)
  for (let i = 0; i < ends.length; i += 2) out[units.length + i / 2] = out[ends[i]]
  return out
}

function extendedWeights(weights: Float32Array, count: number, ends: Int32Array): Float32Array {
  const out = new Float32Array(count + ends.length / 2)
  out.set(weights)
  for (let i = 0; i < ends.length; i += 2) out[count + i / 2] = (out[ends[i]] + out[ends[i + 1]]) / 2
  return out
}
