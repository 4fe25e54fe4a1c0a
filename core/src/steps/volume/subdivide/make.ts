import { latticeFor } from '../../../outline/lattice'
import { solidBounds, triangleCount } from '../../../solid/solid'
import { labelled, type LabelledMesh, solidOf as solidOfMesh } from '../../../volume/labelled'
import { subdivided } from '../../../volume/subdivide'
import { solidOf } from '../../shared/joining'
import { certified, onLattice } from '../../shared/surfaces'
import { type Evaluate, failed } from '../../step'
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
  let mesh: LabelledMesh = labelled(solid)
  for (let i = 0; i < times; i++) {
    mesh = subdivided(mesh, creases, how === 'plain')
    context.progress((i + 1) / (times + 1))
    await context.breathe()
  }
  const result = certified(solidOfMesh({ ...mesh, positions: onLattice(mesh.positions, lattice) }, solid, lattice))
  if (result.ok)
    return {
      ok: true,
      value: result.solid,
      issues: [],
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

/** More triangles than this are not made. */
const MOST = 3_000_000
