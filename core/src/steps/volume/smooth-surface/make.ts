import type { Solid } from '../../../solid/solid'
import { volumeOf } from '../../../solid/volume'
import { labelled, solidOf as solidOfMesh } from '../../../volume/labelled'
import { trianglesFor, trianglesNear } from '../../../volume/side-lengths'
import { smoothedSurface, type Weights } from '../../../volume/smooth-surface'
import { plain } from '../../meta'
import { evenSolid, type Places, type SideValues } from '../../shared/even-triangles'
import { solidOf } from '../../shared/joining'
import { alsoSaid, maskedInput } from '../../shared/masks'
import { certified, keptThere, onLattice } from '../../shared/surfaces'
import { type Evaluate, failed, type StepIssue } from '../../step'
import type { smoothParams } from './schema'

export const evaluate: Evaluate<typeof smoothParams> = async (input, { rounds, weights, creases, mask }, context) => {
  const limited = maskedInput(input, mask)
  if (limited.nowhere) return { ok: true, value: limited.value, issues: limited.issues }
  const solid = solidOf(limited.value)
  if (!solid) return failed('no-solid', 'Smooth surface needs a solid to work on.', 'Put a form such as Extrude, or a Block, before it.')
  await context.breathe()
  const asGiven = { solid, shares: limited.weights }
  const by = { creases, weights }
  const asked = smoothed(asGiven, rounds, by)
  if (asked.ok) return { ok: true, value: asked.solid, issues: limited.issues }
  // long and thin triangles turn over where even ones do not
  const sides = sidesFor(solid, creases)
  const even = await evenSolid(solid, sides, context)
  const again = even.ok ? maskedInput(even.solid, mask) : undefined
  if (again && !again.nowhere) {
    const evened: { solid: Solid; shares?: Float32Array } = { solid: again.value as Solid, shares: again.weights }
    const said = [madeEven(sides), ...limited.issues]
    let places: Places = []
    // where it would pass through itself it stays as it was, and more about there until nothing does
    for (let tried = 0; tried < TRIES; tried++) {
      await context.breathe()
      const result = smoothed(evened, rounds, by)
      if (result.ok)
        return alsoSaid(
          { ok: true, value: result.solid, issues: places.length === 0 ? [] : [keptThere(places, 'rounds', 'Fewer rounds leave less as it was.')] },
          said,
        )
      places = [...places, ...result.all]
      evened.shares = without(evened, places, AROUND * (tried + 1) * sides.edge)
    }
  }
  // or less is done
  for (let now = rounds >> 1; now >= 1; now >>= 1) {
    await context.breathe()
    const result = smoothed(asGiven, now, by)
    if (result.ok) return alsoSaid({ ok: true, value: result.solid, issues: [lessSmooth(now)] }, limited.issues)
  }
  return failed('crosses', 'Smoothed even once, the surface would pass through itself: its triangles are too uneven.', 'Remesh it before, by voxels.', 'rounds')
}

interface Limited {
  readonly solid: Solid
  /** how much of it acts on each vertex; all of it where there are none */
  readonly shares?: Float32Array
}

/** A solid smoothed by so many rounds, certified; or where it would pass through itself. */
function smoothed(
  { solid, shares }: Limited,
  rounds: number,
  { creases, weights }: { readonly creases: number; readonly weights: Weights },
): ReturnType<typeof certified> {
  const mesh = labelled(solid)
  const p = smoothedSurface(mesh, rounds, creases, weights)
  if (shares) for (let i = 0; i < p.length; i++) p[i] = mesh.positions[i] + shares[Math.floor(i / 3)] * (p[i] - mesh.positions[i])
  return certified(solidOfMesh({ ...mesh, positions: onLattice(p, solid.lattice) }, solid, solid.lattice))
}

/** How much acts on each vertex when those of triangles so near to places stay. */
function without({ solid, shares }: Limited, places: Places, reach: number): Float32Array {
  const out = shares?.slice() ?? new Float32Array(solid.positions.length / 3).fill(1)
  const near = trianglesNear(labelled(solid), places, reach)
  for (let i = 0; i < solid.indices.length; i++) if (near[Math.floor(i / 3)]) out[solid.indices[i]] = 0
  return out
}

/** Sides for triangles that can be smoothed, by how thick a solid is on the whole: the volume of a long bar over its surface is a quarter of its thickness. */
function sidesFor(solid: Solid, creases: number): SideValues {
  const mesh = labelled(solid)
  const area = (Math.sqrt(3) / 4) * trianglesFor(mesh, new Float32Array(solid.indices.length / 3).fill(1))
  const edge = Math.max((SHARE * volumeOf(solid)) / area, Math.sqrt((4 * area) / (Math.sqrt(3) * MOST)))
  return { edge, fit: 'bend', least: edge / 3, within: edge / 50, creases: Math.min(creases, CREASES) }
}

/** Sides are this share of the volume over the surface, and so long that there are no more triangles than that where nothing bends. */
const SHARE = 0.7
const MOST = 300_000
/** What bends by more keeps its line when triangles are made even, whatever is smoothed afterwards, °. */
const CREASES = 40

/** How often more stays as it was, and how far about the places where it has to, in sides, each time once more. */
const TRIES = 6
const AROUND = 1.5

const lessSmooth = (now: number): StepIssue => ({
  code: 'less-smooth',
  severity: 'warning',
  message: `Only ${now === 1 ? 'one round was' : `${now} rounds were`} made: after more the surface would pass through itself.`,
  remedy: 'Remesh it before, by voxels.',
  field: 'rounds',
})

const madeEven = ({ edge }: SideValues): StepIssue => ({
  code: 'made-even',
  severity: 'note',
  message: `Its triangles were made even first, with sides of about ${plain(Number(edge.toPrecision(2)))} mm: as they were the surface would have passed through itself.`,
  remedy: 'Put Even remesh before this step to give another length.',
})
