import { hashJson } from '../../cache/hash'
import { rayLength } from '../../check/rays'
import { buildBoxTree } from '../../check/tree'
import { latticeFor } from '../../outline/lattice'
import { joinPlaced, type Placed } from '../../solid/operations'
import { partCount, type Solid, solidBounds, triangleCount } from '../../solid/solid'
import type { Side } from '../../volume/beyond'
import { BAND, type Estimate, estimate, MESHED } from '../../volume/estimate'
import type { SparseField } from '../../volume/field'
import { labelled, type LabelledMesh } from '../../volume/labelled'
import { bodiesApart, bodiesMeet, bodyKey } from '../../solid/bodies-apart'
import { fieldOf, type Meshed, type Way } from '../../volume/remesh'
import { plain } from '../meta'
import { failed, type StepContext, type StepIssue, type StepOutcome } from '../step'
import type { Value } from '../value'
import { eachMade } from './each-made'
import { solidOf } from './joining'
import { type BodyChange, bodyThroughVolume, meshedField } from './body-through-volume'

export interface VoxelParams {
  readonly fit: 'piece' | 'given'
  readonly voxel: number
}

/** Rays by which strokes are measured, and the share of them that are of the thinner kind. */
const RAYS = 400

const THINNER = 0.1

/** What a piece's thinner strokes measure through, mm: of rays straight into it all over its surface the tenth part that goes least far. */
export function thinStroke(
  solid: Pick<Solid, 'positions' | 'indices'>,
): { readonly thickness: number; readonly place: readonly [number, number, number] } | undefined {
  const { positions: p, indices } = solid
  const triangles = indices.length / 3
  const area = new Float64Array(triangles + 1)
  const normal = (t: number): [number, number, number] => {
    const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]]
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]]
    return [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx]
  }
  for (let t = 0; t < triangles; t++) area[t + 1] = area[t] + Math.hypot(...normal(t))
  if (!(area[triangles] > 0)) return undefined
  const tree = buildBoxTree(p, indices)
  const found: { thickness: number; place: [number, number, number] }[] = []
  let t = 0
  for (let i = 0; i < RAYS; i++) {
    const at = ((i + 0.5) / RAYS) * area[triangles]
    while (t < triangles - 1 && area[t + 1] < at) t++
    const n = normal(t)
    const size = Math.hypot(...n)
    if (size === 0) continue
    const place = [0, 1, 2].map((k) => (p[3 * indices[3 * t] + k] + p[3 * indices[3 * t + 1] + k] + p[3 * indices[3 * t + 2] + k]) / 3) as [
      number,
      number,
      number,
    ]
    const thickness = rayLength(tree, p, indices, place, [-n[0] / size, -n[1] / size, -n[2] / size], 1e-4)
    if (Number.isFinite(thickness)) found.push({ thickness, place })
  }
  found.sort((a, b) => a.thickness - b.thickness)
  return found[Math.floor(THINNER * found.length)]
}

/** A size from a fixed row, so that what changes a little in the words does not divide everything anew (ISO 3, R10). */
const fitted = (size: number) => Number((10 ** (Math.floor(10 * Math.log10(size)) / 10)).toPrecision(2))

/** The voxel that fits a piece: a third of its thinner strokes, but between 1/150 and 1/500 of its length, mm. */
export function voxelFor(solid: Pick<Solid, 'positions' | 'indices'>, stroke = thinStroke(solid)): number {
  const box = solidBounds(solid.positions)
  const longest = Math.max(box[3] - box[0], box[4] - box[1], box[5] - box[2])
  const thin = stroke?.thickness ?? longest / 50
  return Math.max(0.01, fitted(Math.min(longest / 150, Math.max(longest / 500, thin / 3))))
}

export interface VolumeWork {
  readonly solid: Solid
  readonly source: LabelledMesh
  readonly voxel: number
  readonly way: Way
  readonly context: StepContext
}

interface VolumeStep {
  readonly title: string
  readonly params: VoxelParams
  readonly way: Way
  /** fitted voxels are no larger than this, mm: what is to be done must be seen in them */
  readonly finest?: number
  /** and no smaller than this, mm: finer ones make more work than what is to be done shows */
  readonly coarsest?: number
  /** further distances than the usual are needed, mm */
  readonly reach?: number
  /** the one side on which they are needed; both when left out */
  readonly side?: Side
  /** makes the field of the piece; as it is when left out */
  readonly field?: (work: VolumeWork) => Promise<SparseField>
  /** changes the field */
  readonly change?: (field: SparseField, work: VolumeWork) => Promise<SparseField>
  /**
   * Bodies that lie so far apart, mm, do not change each other: each is done by itself, and kept as long as it is the same. `change` is then what is done to
   * each, the same as the step's own does. Undefined where all must be done together.
   */
  readonly byBodies?: (voxel: number) => { readonly apart: number; readonly change?: BodyChange } | undefined
  /** lost or joined parts are meant */
  readonly partsMayChange?: boolean
  /** what is said beside the rest; `shift` is how far bodies that were done by themselves were moved at most, mm */
  readonly more?: (work: VolumeWork, shift: number) => StepIssue[]
}

/** What is only a first sight has voxels of at most so much of the thinner strokes, so that these do not break up. */
const STROKE_IN_VOXELS = 0.6

const megabytes = (bytes: number) => `${plain(Math.ceil(bytes / 1e6))} MB`

/** A number of things, in words. */
export const count = (n: number): string => Math.round(n).toLocaleString('en')

/** What a remesh comes to, in words. */
export const inFigures = ({ triangles, bytes, seconds }: Estimate): string =>
  `about ${count(Number(triangles.toPrecision(2)))} triangles, ${megabytes(bytes)} and ${plain(Math.max(0.1, Number(seconds.toPrecision(1))))} s`

/** Runs a step that takes a piece through its volume and back: fits the voxel, refuses what cannot be, and says what was lost. */
export async function throughVolume(input: Value | undefined, context: StepContext, step: VolumeStep): Promise<StepOutcome> {
  const solid = solidOf(input)
  if (!solid) return failed('no-solid', `${step.title} needs a solid to work on.`, 'Put a form such as Extrude, or a Block, before it.')
  if (triangleCount(solid) === 0) return failed('empty', 'The piece is empty: there is nothing to work on.', 'Look at the steps before this one.')
  const given = step.params.fit === 'given'
  const lattice = Math.max(solid.lattice, latticeFor(solidBounds(solid.positions).reduce((most, v) => Math.max(most, Math.abs(v)), 0) + (step.reach ?? 0)))
  // samples on the lattice: rounding leaves vertices in their cells
  const stroke = given && context.rough === undefined ? undefined : thinStroke(solid)
  const asked = given ? step.params.voxel : Math.min(Math.max(voxelFor(solid, stroke), step.coarsest ?? 0), step.finest ?? Infinity)
  // strokes must not break up in what is only a first sight
  const enough = context.rough === undefined ? asked : Math.max(asked, Math.min(context.rough * asked, STROKE_IN_VOXELS * (stroke?.thickness ?? Infinity)))
  const voxel = Math.max(1, Math.round(enough / lattice)) * lattice
  const usual = step.change ? BAND : MESHED
  const band = step.reach ? Math.ceil(step.reach / voxel) + BAND : usual
  const expected = estimate(solid, voxel, step.way, band, step.side)
  if (!expected.possible)
    return {
      ok: false,
      issue: {
        code: 'too-fine',
        severity: 'failed',
        message: `Voxels of ${plain(voxel)} mm would need ${inFigures(expected)} here, which is more than can be done.`,
        remedy: `The smallest that can be done is ${plain(Math.ceil(100 * expected.smallest) / 100)} mm.`,
        field: 'voxel',
        fixes: [
          { label: `Take ${plain(Math.ceil(100 * expected.smallest) / 100)} mm`, params: { fit: 'given', voxel: Math.ceil(100 * expected.smallest) / 100 } },
        ],
      },
    }
  const breathe = () => context.breathe()
  context.progress(0.05, inFigures(expected))
  await breathe()
  const source = labelled(solid)
  const work: VolumeWork = { solid, source, voxel, way: step.way, context }
  let meshed: Meshed
  let shift = 0
  try {
    const alone = step.byBodies?.(voxel)
    const bodies = alone && bodiesApart(solid, { voxel, apart: alone.apart, lattice })
    const each = bodies && (await bodyByBody(bodies, work, { band, side: step.side, lattice, change: alone.change }))
    shift = each?.shift ?? 0
    meshed = each?.meshed ?? (await remeshed(work, step, band, lattice))
  } catch (error) {
    if (!(error instanceof RangeError)) throw error
    return failed('too-fine', `Voxels of ${plain(voxel)} mm are too small for a piece of this size.`, 'Give a larger voxel.', 'voxel')
  }
  if (!meshed.ok)
    return meshed.places.length === 0
      ? failed('nothing-left', 'Nothing is left of the piece: all of it is finer than the voxels.', 'Give a smaller voxel, or a smaller amount.', 'voxel')
      : {
          ok: false,
          issue: {
            code: 'not-certified',
            severity: 'failed',
            message: 'The result crosses itself, and could not be mended.',
            remedy: 'Give another voxel size, or take the smooth way. The place is shown in the view.',
            places: meshed.places.slice(0, 8),
            field: 'voxel',
          },
        }
  const issues = [...(step.partsMayChange ? [] : partsSaid(solid, meshed.solid, voxel)), ...(step.more?.(work, shift) ?? [])]
  return {
    ok: true,
    value: meshed.solid,
    issues,
    told: `${count(triangleCount(meshed.solid))} triangles from voxels of ${plain(voxel)} mm; ${count(Number(expected.triangles.toPrecision(2)))} in ${plain(Math.max(0.1, Number(expected.seconds.toPrecision(1))))} s expected`,
  }
}

/** How long work on volumes is done within a step. */
export const workingIn = (context: StepContext) => ({ breathe: () => context.breathe(), threads: context.threads, signal: context.signal })

/** A piece through its volume and back. */
async function remeshed(work: VolumeWork, step: VolumeStep, band: number, lattice: number): Promise<Meshed> {
  const { solid, source, voxel, context } = work
  const working = workingIn(context)
  let field = step.field ? await step.field(work) : (await fieldOf(source, voxel, { ...working, band, side: step.side })).field
  context.progress(0.4)
  if (step.change) field = await step.change(field, work)
  context.progress(0.6)
  return meshedField(field, source, solid, { ...working, way: step.way, lattice })
}

/**
 * Each body through a volume of its own, which it keeps as long as it is the same; a body of which nothing is left is not there. `shift` is the most of what they were moved
 * by, mm. Undefined where two of them have come to lie so near that only a volume of both tells that they do not meet.
 */
async function bodyByBody(
  bodies: readonly Placed[],
  { solid, voxel, way, context }: VolumeWork,
  { band, side, lattice, change }: { readonly band: number; readonly side: Side | undefined; readonly lattice: number; readonly change?: BodyChange },
): Promise<{ readonly meshed: Meshed; readonly shift: number } | undefined> {
  const results = await eachMade(
    bodyThroughVolume,
    bodies.map((body) => ({
      key: `remeshed:${way}:${voxel}:${lattice}:${band}:${change ? hashJson(change) : ''}:${bodyKey(body.solid)}`,
      data: { solid: body.solid, voxel, band, side, way, lattice, ...(change ? { change } : {}) },
      takes: 1000 * estimate(body.solid, voxel, way, band, side).seconds * (change ? CHANGED : 1),
    })),
    context,
    0.95,
  )
  const made: Placed[] = []
  let [blunted, most] = [0, 0]
  for (const [i, body] of bodies.entries()) {
    const { meshed, shift } = results[i]
    if (Math.abs(shift) > Math.abs(most)) most = shift
    if (meshed.ok) {
      made.push({ ...body, solid: meshed.solid })
      blunted += meshed.blunted
    } else if (meshed.places.length > 0)
      return { meshed: { ok: false, places: meshed.places.map(([x, y, z]) => [x + body.dx, y + body.dy, z + body.dz]) }, shift: most }
  }
  if (made.length === 0) return { meshed: { ok: false, places: [] }, shift: most }
  return bodiesMeet(made) ? undefined : { meshed: { ok: true, solid: joinPlaced(made, solid.letters, lattice, solid.layers), blunted }, shift: most }
}

/** How many times as long what is changed takes as what only goes there and back, about. */
const CHANGED = 3

/** Says it when a piece has come into more parts than it had, or fewer: strokes thinner than about two voxels break up or vanish. */
function partsSaid(before: Solid, after: Solid, voxel: number): StepIssue[] {
  const [was, is] = [partCount(before), partCount(after)]
  if (was === is) return []
  const thin = thinStroke(before)
  const less = Math.max(0.01, Number((voxel / 2).toPrecision(2)))
  return [
    {
      code: is > was ? 'broken-up' : 'parts-gone',
      severity: 'warning',
      message:
        is > was
          ? `The piece has broken into ${is} parts where it had ${was}: strokes under ${plain(2 * voxel)} mm vanish at this voxel size.`
          : `Of ${was} parts ${is} are left: what is finer than ${plain(2 * voxel)} mm, or nearer together, is one or gone at this voxel size.`,
      remedy: 'Give a smaller voxel.',
      field: 'voxel',
      ...(thin ? { places: [thin.place] } : {}),
      fixes: [{ label: `Take ${plain(less)} mm`, params: { fit: 'given', voxel: less } }],
    },
  ]
}
