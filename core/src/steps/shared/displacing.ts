import { displaced, finerForDisplacing, vertexNormals } from '../../deform/displace'
import { displacedField } from '../../volume/masked-field'
import { masked } from '../../mask/masked'
import type { Mask } from '../../mask/schema'
import { type Solid, solidBounds, triangleCount } from '../../solid/solid'
import { plain } from '../meta'
import { failed, type StepContext, type StepIssue, type StepOutcome } from '../step'
import type { Value } from '../value'
import { solidOf } from './joining'
import { alsoSaid, MASK_NOWHERE, paintedAside } from './masks'
import { turnedBack, turnedOver } from '../../solid/flip'
import type { Side } from '../../volume/beyond'
import { MESHED, shadowsOf } from '../../volume/estimate'
import { redistanced } from '../../volume/remesh'
import { certified } from './surfaces'
import { count, throughVolume, workingIn } from './volumes'

/** A surface that would need more triangles than this goes through its volume, which divides it evenly. */
const MOST_TRIANGLES = 150_000

/** And that has no more than about so many there: more take minutes. */
const MOST_THROUGH = 700_000

interface DisplaceInStep {
  readonly title: string
  readonly mask: Mask
  /** 0 to 1 */
  readonly strength: number
  /** the longest side wanted, mm */
  readonly edge: number
  readonly along: readonly [number, number, number] | 'normal'
  /** mm at a place at rest */
  readonly by: (x: number, y: number, z: number) => number
  /** mm that comes to at most; half as much again as the main value when left out */
  readonly atMost?: number
  /** whether it goes one way only, along the normals: out, or in */
  readonly side?: Side
  readonly main: { readonly field: string; readonly value: number }
}

/**
 * Moves a surface along its normals or one way, for a step: made fine where the mask has it act, measured on the shape at rest. Where the surface would pass
 * through itself, it is moved through its volume, where it cannot.
 */
export async function displaceInStep(input: Value | undefined, context: StepContext, work: DisplaceInStep): Promise<StepOutcome> {
  const { title, mask, strength, edge, along, by, main } = work
  const solid = solidOf(input)
  if (!solid) return failed('no-solid', `${title} needs a solid to work on.`, 'Put a form such as Extrude, or a Block, before it.')
  if (triangleCount(solid) === 0) return failed('empty', 'The piece is empty: there is nothing to work on.', 'Look at the steps before this one.')
  if (strength === 0 || main.value === 0) return { ok: true, value: solid, issues: [] }
  let said: readonly StepIssue[] = []
  let base: Solid = { ...solid, attributes: { ...solid.attributes, weight: undefined } }
  if (mask.list.length > 0) {
    const { solid: fine, weights, aside } = masked(solid, mask)
    said = paintedAside(aside)
    if (weights.every((w) => w === 0)) return { ok: true, value: solid, issues: [MASK_NOWHERE, ...said] }
    base = { ...fine, attributes: { ...fine.attributes, weight: weights } }
  }
  context.progress(0.1)
  await context.breathe()
  const fine = finerForDisplacing(base, (context.rough ?? 1) * edge, MOST_TRIANGLES)
  context.progress(0.3)
  await context.breathe()
  if (fine) {
    const amount = (v: number, p: Float64Array) => strength * by(p[3 * v], p[3 * v + 1], p[3 * v + 2])
    const moved = turnedBack(displaced(fine, amount, along === 'normal' ? vertexNormals(fine) : along))
    // what looks the other way has run together in a hollow
    if (!turnedOver(moved)) {
      const result = certified(moved)
      if (result.ok) return { ok: true, value: result.solid, issues: said, told: `${triangleCount(result.solid).toLocaleString('en')} triangles` }
    }
  }
  await context.breathe()
  return alsoSaid(await throughItsVolume(base, context, work), said)
}

/** The same through the volume: nothing of it can cross, whatever the amount. */
async function throughItsVolume(
  base: Solid,
  context: StepContext,
  { title, strength, edge, along, by, atMost, side, main }: DisplaceInStep,
): Promise<StepOutcome> {
  const most = 1.5 * Math.abs(main.value) * strength
  const meant = edge * 1.3
  // two triangles for every voxel of its shadows
  const twice = 2 * shadowsOf(base)
  const finest = Math.max(meant, Math.sqrt(twice / MOST_THROUGH))
  const outcome = await throughVolume(base, context, {
    title,
    params: { fit: 'piece', voxel: 1 },
    way: 'smooth',
    finest,
    coarsest: most / 12,
    // distances are looked for as far as the surface goes, and no further: most of the work is that
    reach: Math.min(most, (atMost ?? Infinity) * strength),
    side: along === 'normal' ? side : undefined,
    partsMayChange: true,
    async change(field, { source }) {
      const weights = base.attributes.weight
      const amount = (x: number, y: number, z: number) => strength * by(x, y, z)
      // one way only: as much of it as goes off the surface
      const facing = along === 'normal' ? undefined : facingOf(base, along)
      return redistanced(displacedField(field, source, facing ? (x, y, z, t) => amount(x, y, z) * facing(t) : amount, weights), {
        // only what lies at the surface is needed from here on
        ...workingIn(context),
        band: MESHED,
      })
    },
  })
  if (!outcome.ok) return outcome
  const note: StepIssue = {
    code: 'through-volume',
    severity: 'note',
    message: 'The surface was moved through its volume, since it would pass through itself otherwise: edges are as fine as the voxels.',
    remedy: 'Less of it, or a mask that leaves narrow edges out, keeps every edge as it is.',
    field: main.field,
  }
  const coarser: StepIssue[] =
    finest > meant && context.rough === undefined
      ? [
          {
            code: 'coarser',
            severity: 'note',
            message: `So fine a surface would need about ${count(Number((twice / meant ** 2).toPrecision(2)))} triangles here: its voxels are ${plain(finest)} mm instead of ${plain(meant)} mm, and what is finer is left out.`,
            remedy: 'Ask for less detail, or work on a smaller piece.',
            field: main.field,
          },
        ]
      : []
  return { ...outcome, issues: [...outcome.issues, note, ...coarser] }
}

/** How much each triangle looks a way, −1 to 1. */
function facingOf({ positions: p, indices }: Solid, way: readonly [number, number, number]): (triangle: number) => number {
  return (t) => {
    const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]]
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]]
    const n = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx]
    return (n[0] * way[0] + n[1] * way[1] + n[2] * way[2]) / (Math.hypot(n[0], n[1], n[2]) || 1)
  }
}

/** A side length that fits a piece: of a hundred and sixty to its longest way, mm. */
export function sideFor(input: Value | undefined): number {
  const solid = solidOf(input)
  if (!solid || triangleCount(solid) === 0) return 1
  const box = solidBounds(solid.positions)
  return Math.max(0.05, Math.max(box[3] - box[0], box[4] - box[1], box[5] - box[2]) / 160)
}
