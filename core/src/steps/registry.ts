import { block } from './block'
import { channel } from './channel'
import { combine } from './combine'
import { drawing } from './drawing'
import { dress } from './dress'
import { extend } from './extend'
import { extrude } from './extrude'
import { inflate } from './inflate'
import { layers } from './layers'
import { lettering } from './lettering'
import { offset } from './offset'
import { plate } from './plate'
import { prismatic } from './prismatic'
import { redraw } from './redraw'
import { relief } from './relief'
import { roundCornersStep } from './round-corners'
import { simplify } from './simplify'
import { slice } from './slice'
import { smooth } from './smooth'
import type { StepKind } from './step'
import { strokeToOutline } from './stroke-to-outline'
import { sweep } from './sweep'
import { tracedPicture } from './traced-picture'
import { tube } from './tube'
import { vectorFile } from './vector-file'
import { warp } from './warp'

/** Every step there is, in the order the finder shows them. A new step is one folder and one line here. */
export const STEPS: readonly StepKind[] = [
  lettering,
  drawing,
  vectorFile,
  tracedPicture,
  plate,
  block,
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
  inflate,
  tube,
  sweep,
  channel,
  relief,
  dress,
] as readonly StepKind[]

/** The kind of that name, or undefined. */
export function stepKind(kind: string): StepKind | undefined {
  return STEPS.find((step) => step.kind === kind)
}
