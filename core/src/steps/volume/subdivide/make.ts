import type { z } from 'zod'
import { latticeFor } from '../../../outline/lattice'
import { stoutTriangles } from '../../../solid/flip'
import { type Solid, solidBounds, triangleCount } from '../../../solid/solid'
import { labelled, type LabelledMesh, solidOf as solidOfMesh } from '../../../volume/labelled'
import { trianglesFor, trianglesNear } from '../../../volume/side-lengths'
import { subdivided } from '../../../volume/subdivide'
import type { Places } from '../../shared/even-triangles'
import { solidOf } from '../../shared/joining'
import { certified, keptThere, onLattice } from '../../shared/surfaces'
import { type Evaluate, failed, type StepContext } from '../../step'
import type { subdivideParams } from './schema'

export const evaluate: Evaluate<typeof subdivideParams> = async (input, { times, how, creases }, context) => {
  const solid = solidOf(input)
  if (!solid) return failed('no-solid', 'Subdivide needs a solid to work on.', 'Put a form such as Extrude, or a Block, before it.')
  const triangles = triangleCount(solid) * 4 ** times
  if (triangles > MOST)
    return failed(
      'too-many',
      `Divided so often the piece would have ${triangles.toLocaleString('en')} triangles; ${MOST.toLocaleString('en')} are the most.`,
      'Divide it less often, or reduce it before.',
      'times',
    )
  const lattice = Math.max(solid.lattice, latticeFor(solidBounds(solid.positions).reduce((most, v) => Math.max(most, Math.abs(v)), 0)))
  // where it stays as it is nothing but rounding makes it cross
  const made = (mesh: LabelledMesh, positions = mesh.positions, asItIs = how === 'plain') =>
    certified(solidOfMesh({ ...mesh, positions: onLattice(positions, lattice) }, solid, lattice), asItIs ? MOST_ROUNDED : undefined)
  let result = made(await divided(solid, { times, creases, how }, context))
  let places: Places = []
  if (!result.ok) {
    // new points of slivers come to lie beyond their other sides once they are rounded
    const stout = stoutTriangles(solid)
    const again = await divided(stout, { times, creases, how }, context)
    result = made(again)
    // where it would pass through itself it is divided as it is, and more about there until nothing does
    const asItIs =
      result.ok || how === 'plain' || triangles > MOST_TRIED ? undefined : (await divided(stout, { times, creases, how: 'plain' }, context)).positions
    const side = usualSide(again)
    for (let tried = 0; asItIs && tried < TRIES && !result.ok; tried++) {
      await context.breathe()
      places = [...places, ...result.all]
      const near = trianglesNear(again, places, side * 2 ** tried)
      const positions = again.positions.slice()
      for (let i = 0; i < again.indices.length; i++)
        if (near[Math.floor(i / 3)]) for (let k = 3 * again.indices[i], end = k + 3; k < end; k++) positions[k] = asItIs[k]
      result = made(again, positions, tried > 0)
    }
  }
  if (result.ok)
    return {
      ok: true,
      value: result.solid,
      issues: places.length === 0 ? [] : [keptThere(places, 'creases', 'Creases from a smaller angle leave less as it was.')],
      told: `${triangleCount(solid).toLocaleString('en')} → ${triangleCount(result.solid).toLocaleString('en')} triangles`,
    }
  return {
    ok: false,
    issue: {
      code: 'crosses',
      severity: 'failed',
      message: 'Rounded like this the surface would pass through itself.',
      remedy: 'Let creases begin at a smaller angle, or divide it as it is. The place is shown in the view.',
      places: result.places,
      field: 'creases',
      fixes: [{ label: 'Divide it as it is', params: { how: 'plain' } }],
    },
  }
}

/** A solid divided so many times, not certified. */
async function divided(solid: Solid, { times, creases, how }: z.infer<typeof subdivideParams>, context: StepContext): Promise<LabelledMesh> {
  let mesh: LabelledMesh = labelled(solid)
  for (let i = 0; i < times; i++) {
    mesh = subdivided(mesh, creases, how === 'plain')
    context.progress((i + 1) / (times + 1))
    await context.breathe()
  }
  return mesh
}

/** A length for what lies next to a place: of a side if all were alike, mm. */
function usualSide(mesh: LabelledMesh): number {
  const triangles = mesh.indices.length / 3
  return Math.sqrt(trianglesFor(mesh, new Float32Array(triangles).fill(1)) / triangles)
}

/** How often more is left as it was, each time twice as far about the places where it has to be. */
const TRIES = 6
/** Each try takes seconds for more triangles than this. */
const MOST_TRIED = 600_000
/** Slivers of one word whose new points are rounded over their sides are no more than this. */
const MOST_ROUNDED = 400

/** More triangles than this are not made. */
const MOST = 3_000_000
