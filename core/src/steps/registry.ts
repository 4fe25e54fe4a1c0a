import { grid } from './repeat/grid'
import { row } from './repeat/row'
import { ring } from './repeat/ring'
import { along } from './repeat/along'
import { fillInside } from './repeat/fill-inside'
import { onSurface } from './repeat/on-surface'
import { atLetters } from './repeat/at-letters'
import { strutLattice } from './repeat/lattice'
import { inTurn } from './repeat/in-turn'
import { vary } from './repeat/vary'
import { shatter } from './break/shatter'
import { burstStep } from './break/burst'
import { balloon } from './physics/balloon'
import { dropStep } from './physics/drop'
import { drapeStep } from './physics/drape'
import { jelly } from './physics/jelly'
import { bend } from './deform/bend'
import { twist } from './deform/twist'
import { taper } from './deform/taper'
import { stretch } from './deform/stretch'
import { shear } from './deform/shear'
import { bulge } from './deform/bulge'
import { wave } from './deform/wave'
import { roughen } from './deform/roughen'
import { swell } from './deform/swell'
import { runAlong } from './deform/run-along'
import { freeCage } from './deform/free-cage'
import { carveLettering } from './join/carve-lettering'
import { raiseLettering } from './join/raise-lettering'
import { cutFlat } from './join/cut-flat'
import { carve } from './join/carve'
import { inlay } from './join/inlay'
import { insert } from './form/insert'
import { stencil } from './outline/stencil'
import { fuse } from './join/fuse'
import { overlap } from './join/overlap'
import { block } from './source/block'
import { channel } from './form/channel'
import { centreLines } from './outline/centre-lines'
import { brush } from './form/brush'
import { combine } from './outline/combine'
import { drawing } from './source/drawing'
import { dress } from './dress/dress'
import { runningLight } from './dress/running-light'
import { extend } from './outline/extend'
import { extrude } from './form/extrude'
import { inflate } from './form/inflate'
import { layers } from './outline/layers'
import { lettering } from './source/lettering'
import { modelFile } from './source/model-file'
import { offset } from './outline/offset'
import { pieceOutline } from './source/piece-outline'
import { plate } from './source/plate'
import { prismatic } from './form/prismatic'
import { redraw } from './outline/redraw'
import { relief } from './form/relief'
import { roundCornersStep } from './outline/round-corners'
import { simplify } from './outline/simplify'
import { slice } from './outline/slice'
import { smooth } from './outline/smooth'
import { givenBy, type StepKind } from './step'
import { serves, type ValueKind } from './value'
import { strokeToOutline } from './outline/stroke-to-outline'
import { sweep } from './form/sweep'
import { tracedPicture } from './source/traced-picture'
import { tube } from './form/tube'
import { vectorFile } from './source/vector-file'
import { warp } from './outline/warp'
import { writeOn } from './outline/write-on'
import { evenRemesh } from './volume/even-remesh'
import { grow } from './volume/grow'
import { hollow } from './volume/hollow'
import { melt } from './volume/melt'
import { chisel } from './volume/chisel'
import { rebuild } from './volume/rebuild'
import { reduce } from './volume/reduce'
import { smoothSurface } from './volume/smooth-surface'
import { soften } from './volume/soften'
import { subdivide } from './volume/subdivide'
import { voxelRemesh } from './volume/voxel-remesh'

/** Every step there is, in the order the finder shows them. A new step is one folder and one line here. */
export const STEPS: readonly StepKind[] = [
  lettering,
  drawing,
  vectorFile,
  modelFile,
  tracedPicture,
  pieceOutline,
  plate,
  block,
  layers,
  redraw,
  extend,
  combine,
  strokeToOutline,
  centreLines,
  writeOn,
  offset,
  roundCornersStep,
  smooth,
  slice,
  stencil,
  warp,
  simplify,
  extrude,
  prismatic,
  inflate,
  tube,
  sweep,
  brush,
  channel,
  relief,
  insert,
  voxelRemesh,
  soften,
  grow,
  melt,
  hollow,
  rebuild,
  chisel,
  evenRemesh,
  reduce,
  subdivide,
  smoothSurface,
  fuse,
  carve,
  overlap,
  carveLettering,
  raiseLettering,
  inlay,
  cutFlat,
  bend,
  twist,
  taper,
  stretch,
  shear,
  bulge,
  wave,
  roughen,
  swell,
  runAlong,
  freeCage,
  grid,
  row,
  ring,
  along,
  fillInside,
  onSurface,
  atLetters,
  vary,
  inTurn,
  shatter,
  burstStep,
  dropStep,
  jelly,
  balloon,
  drapeStep,
  strutLattice,
  dress,
  runningLight,
] as readonly StepKind[]

/** The kind of that name, or undefined. */
export function stepKind(kind: string): StepKind | undefined {
  return STEPS.find((step) => step.kind === kind)
}

/** Whether a kind of step can give one of these values; one that is not known may give anything. */
export function mayGive(name: string, accepts: readonly ValueKind[]): boolean {
  const kind = stepKind(name)
  if (!kind) return true
  const gives = kind.takes.length > 0 ? kind.takes.map((takes) => givenBy(kind, takes)) : [givenBy(kind, undefined)]
  return gives.some((given) => serves(given, accepts))
}
