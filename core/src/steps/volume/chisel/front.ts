import { hashNumbers } from '../../../cache/hash'
import { checkMesh } from '../../../check/check'
import { mendedSolid } from '../../../join/placed'
import type { Task } from '../../../parallel/share-out'
import { bodiesApart, shadedBodyKey, surfacesMeet, wholeBody } from '../../../solid/bodies-apart'
import { joinPlaced, type Placed } from '../../../solid/operations'
import { type Solid, triangleCount, withParts } from '../../../solid/solid'
import { type ChiselFront, chiselledFront } from '../../../volume/chisel-front'
import { eachMade } from '../../shared/each-made'
import { certified, type Places } from '../../shared/surfaces'
import type { StepContext } from '../../step'

/** A body whose front is chiselled, and where it is as it was; or where it crosses itself. */
type FrontMade = { readonly ok: true; readonly solid: Solid; readonly kept: Places } | { readonly ok: false; readonly places: Places } | 'too many'

/** One body's whole front, for other threads. */
export const chiselBody: Task<{ readonly solid: Solid; readonly values: ChiselFront }, { readonly made: FrontMade }> = {
  name: 'chisel-front',
  run: async ({ solid, values }, breathe) => ({ made: await soundFront(solid, values, breathe) }),
}

/** How far about a place where it crosses a surface is left as it was, mm, one after another. */
const AROUND = [0.1, 0.3, 0.9, 2.7]
/** More crossings than this are no matter of single places. */
const MOST_CROSSINGS = 9000

/** As near to other sides a side is not parted where slivers of a ridge have come to cross, mm. */
const CLEAR = 0.005

/**
 * The front chiselled and mended where rounding spoilt it: as exactly as may be, or else without slivers at ridges, or else with a few places left as they were, where it
 * would cross: where something hangs over it, say.
 */
async function soundFront(body: Solid, values: ChiselFront, breathe: () => Promise<void>): Promise<FrontMade> {
  const kept: (readonly [number, number, number])[] = []
  for (let tried = 0; ; tried++) {
    const clear = tried === 0 ? 0 : CLEAR
    const front = chiselledFront(body, tried < 2 ? { ...values, clear } : { ...values, clear, leave: { places: kept, reach: AROUND[tried - 2] } })
    if (!front) return 'too many'
    await breathe()
    const { solid } = mendedSolid(front)
    const check = checkMesh(solid)
    if (check.sound) return { ok: true, solid, kept }
    const places = check.findings.flatMap((finding) => finding.places)
    if (tried === AROUND.length + 1 || (tried > 0 && check.crossings > MOST_CROSSINGS)) return { ok: false, places }
    if (tried > 0) kept.push(...places)
    await breathe()
  }
}

/** About how long a triangle that comes in takes, ms. */
const PER_TRIANGLE = 0.2

/** A solid whose whole front is chiselled, body by body, each kept as long as it is the same. Bodies whose boxes meet go by one outline. Certified. */
export async function wholeFront(solid: Solid, values: ChiselFront, context: StepContext): Promise<FrontMade> {
  const { lattice } = solid
  const bodies = bodiesApart(solid, { voxel: lattice, apart: 0, lattice }) ?? [wholeBody(solid)]
  const { profile, within } = values
  const curve = hashNumbers([profile.coords, profile.verbs, [within]])
  const results = await eachMade(
    chiselBody,
    bodies.map((body) => ({
      key: `chisel-front:${curve}:${shadedBodyKey(body.solid)}`,
      data: { solid: body.solid, values },
      takes: triangleCount(body.solid) * PER_TRIANGLE,
    })),
    context,
    0.9,
  )
  const placed: Placed[] = []
  const kept: (readonly [number, number, number])[] = []
  for (const [i, body] of bodies.entries()) {
    const { made } = results[i]
    if (made === 'too many') return made
    const moved = (places: Places) => places.map(([x, y, z]) => [x + body.dx, y + body.dy, z + body.dz] as const)
    if (!made.ok) return { ok: false, places: moved(made.places) }
    placed.push({ ...body, solid: made.solid })
    kept.push(...moved(made.kept))
  }
  const whole = withParts(joinPlaced(placed, solid.letters, lattice, solid.layers))
  // each is sound by itself
  if (!surfacesMeet(placed)) return { ok: true, solid: whole, kept }
  const result = certified(whole)
  return result.ok ? { ok: true, solid: result.solid, kept } : result
}
