import { triangleCount } from '../../../solid/solid'
import { evenlyRemeshed } from '../../../volume/even-remesh'
import { labelled, solidOf as solidOfMesh } from '../../../volume/labelled'
import { halvedAt, lengthsByBend, trianglesFor } from '../../../volume/side-lengths'
import { plain } from '../../meta'
import { solidOf } from '../../shared/joining'
import { certified, onLattice } from '../../shared/surfaces'
import { type Evaluate, failed } from '../../step'
import type { evenParams } from './schema'

export const evaluate: Evaluate<typeof evenParams> = async (input, { edge: asked, fit, least, within, creases }, context) => {
  const solid = solidOf(input)
  if (!solid) return failed('no-solid', 'Even remesh needs a solid to work on.', 'Put a form such as Extrude, or a Block, before it.')
  const source = labelled(solid)
  // what is only a first sight is coarser all over
  const edge = (context.rough ?? 1) * asked
  const one = () => new Float32Array(source.indices.length / 3).fill(edge)
  let lengths = fit === 'bend' ? lengthsByBend(source, creases, { most: edge, least: Math.min(edge, (context.rough ?? 1) * least), within }) : undefined
  const expected = trianglesFor(source, lengths ?? one())
  if (expected > MOST) {
    const enough = Math.ceil(100 * (lengths ? least : asked) * Math.sqrt(expected / MOST)) / 100
    return {
      ok: false,
      issue: {
        code: 'too-fine',
        severity: 'failed',
        message: `Sides of ${plain(lengths ? least : asked)} mm would make about ${Math.round(expected).toLocaleString('en')} triangles; ${MOST.toLocaleString('en')} are the most.`,
        remedy: `Give ${plain(enough)} mm or more.`,
        field: lengths ? 'least' : 'edge',
        fixes: [{ label: `Take ${plain(enough)} mm`, params: { [lengths ? 'least' : 'edge']: enough } }],
      },
    }
  }
  let places: readonly (readonly [number, number, number])[] = []
  for (let tried = 0; tried < TRIES; tried++) {
    const mesh = await evenlyRemeshed(source, edge, creases, () => context.breathe(), lengths)
    context.progress(0.3 + (0.6 * (tried + 1)) / TRIES)
    const result = certified(solidOfMesh({ ...mesh, positions: onLattice(mesh.positions, solid.lattice) }, solid, solid.lattice))
    if (result.ok)
      return {
        ok: true,
        value: result.solid,
        issues:
          tried === 0
            ? []
            : [
                {
                  code: 'shorter-there',
                  severity: 'note',
                  message: 'Sides are shorter where the surface would pass through itself otherwise.',
                  remedy: 'The places are shown in the view. Shorter sides all over make them alike.',
                  places,
                  field: 'edge',
                },
              ],
        told: `${triangleCount(solid).toLocaleString('en')} → ${triangleCount(result.solid).toLocaleString('en')} triangles`,
      }
    places = [...places, ...result.places]
    lengths = halvedAt(lengths ?? one(), source, result.places, AROUND * edge)
    await context.breathe()
  }
  return {
    ok: false,
    issue: {
      code: 'crosses',
      severity: 'failed',
      message: 'With sides of this length the surface would pass through itself.',
      remedy: 'Give shorter sides. The place is shown in the view.',
      places: places.slice(-8),
      field: 'edge',
      fixes: [{ label: `Take ${plain(asked / 2)} mm`, params: { edge: asked / 2 } }],
    },
  }
}

/** More triangles than this are not made. */
const MOST = 2_000_000

/** How often sides are made shorter where the surface crosses itself, and how far round about, in sides. */
const TRIES = 5
const AROUND = 1.5
