import { combine } from './combine'
import { drawing } from './drawing'
import { dress } from './dress'
import { extend } from './extend'
import { extrude } from './extrude'
import { layers } from './layers'
import { lettering } from './lettering'
import { offset } from './offset'
import { plate } from './plate'
import { prismatic } from './prismatic'
import { redraw } from './redraw'
import { roundCornersStep } from './round-corners'
import { simplify } from './simplify'
import { slice } from './slice'
import { smooth } from './smooth'
import type { StepKind } from './step'
import { strokeToOutline } from './stroke-to-outline'
import { tracedPicture } from './traced-picture'
import { vectorFile } from './vector-file'
import { warp } from './warp'

/** Every step there is, in the order the finder shows them. A new step is one folder and one line here. */
export const STEPS: readonly StepKind[] = [
  lettering,
  drawing,
  vectorFile,
  tracedPicture,
  plate,
  layers,
  redraw,
  extend,
  combine,
  strokeToOutline,
  offset,
  roundCornersStep,
  smooth,
  slice,
  warp,
  simplify,
  extrude,
  prismatic,
  dress,
] as readonly StepKind[]

/** The kind of that name, or undefined. */
export function stepKind(kind: string): StepKind | undefined {
  return STEPS.find((step) => step.kind === kind)
}
