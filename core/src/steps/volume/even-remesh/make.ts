import { triangleCount } from '../../../solid/solid'
import { shadowsOf } from '../../../volume/estimate'
import { evenlyRemeshed } from '../../../volume/even-remesh'
import { labelled, solidOf as solidOfMesh } from '../../../volume/labelled'
import { plain } from '../../meta'
import { solidOf } from '../../shared/joining'
import { certified, onLattice } from '../../shared/surfaces'
import { type Evaluate, failed } from '../../step'
import type { evenParams } from './schema'

export const evaluate: Evaluate<typeof evenParams> = async (input, { edge, creases }, context) => {
  const solid = solidOf(input)
  if (!solid) return failed('no-solid', 'Even remesh needs a solid to work on.', 'Put a form such as Extrude, or a Block, before it.')
  // the area is at least the longest of its shadows: of triangles with equal sides so many cover it
  const expected = (shadowsOf(solid) / 1.5 / (edge * edge)) * 2.31
  if (expected > MOST) {
    const least = Math.ceil(100 * edge * Math.sqrt(expected / MOST)) / 100
    return {
      ok: false,
      issue: {
        code: 'too-fine',
        severity: 'failed',
        message: `Sides of ${plain(edge)} mm would make about ${Math.round(expected).toLocaleString('en')} triangles; ${MOST.toLocaleString('en')} are the most.`,
        remedy: `Give ${plain(least)} mm or more.`,
        field: 'edge',
        fixes: [{ label: `Take ${plain(least)} mm`, params: { edge: least } }],
      },
    }
  }
  const mesh = await evenlyRemeshed(labelled(solid), (context.rough ?? 1) * edge, creases, () => context.breathe())
  context.progress(0.8)
  const result = certified(solidOfMesh({ ...mesh, positions: onLattice(mesh.positions, solid.lattice) }, solid, solid.lattice))
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
      message: 'With sides of this length the surface would pass through itself.',
      remedy: 'Give shorter sides. The place is shown in the view.',
      places: result.places,
      field: 'edge',
      fixes: [{ label: `Take ${plain(edge / 2)} mm`, params: { edge: edge / 2 } }],
    },
  }
}

/** More triangles than this are not made. */
const MOST = 2_000_000
