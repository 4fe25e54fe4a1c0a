import { triangleCount } from '../../../solid/solid'
import { labelled } from '../../../volume/labelled'
import { trianglesFor } from '../../../volume/side-lengths'
import { plain } from '../../meta'
import { evenSolid, lengthsFor, type SideValues } from '../../shared/even-triangles'
import { solidOf } from '../../shared/joining'
import { type Evaluate, failed } from '../../step'
import type { evenParams } from './schema'

export const evaluate: Evaluate<typeof evenParams> = async (input, { edge: asked, fit, least, within, creases }, context) => {
  const solid = solidOf(input)
  if (!solid) return failed('no-solid', 'Even remesh needs a solid to work on.', 'Put a form such as Extrude, or a Block, before it.')
  const source = labelled(solid)
  // what is only a first sight is coarser all over
  const edge = (context.rough ?? 1) * asked
  const values: SideValues = { edge, fit, least: Math.min(edge, (context.rough ?? 1) * least), within, creases }
  const expected = trianglesFor(source, lengthsFor(source, values))
  if (expected > MOST) {
    const enough = Math.ceil(100 * (fit === 'bend' ? least : asked) * Math.sqrt(expected / MOST)) / 100
    return {
      ok: false,
      issue: {
        code: 'too-fine',
        severity: 'failed',
        message: `Sides of ${plain(fit === 'bend' ? least : asked)} mm would make about ${Math.round(expected).toLocaleString('en')} triangles; ${MOST.toLocaleString('en')} are the most.`,
        remedy: `Give ${plain(enough)} mm or more.`,
        field: fit === 'bend' ? 'least' : 'edge',
        fixes: [{ label: `Take ${plain(enough)} mm`, params: { [fit === 'bend' ? 'least' : 'edge']: enough } }],
      },
    }
  }
  const made = await evenSolid(solid, values, context)
  if (!made.ok)
    return {
      ok: false,
      issue: {
        code: 'crosses',
        severity: 'failed',
        message: 'With sides of this length the surface would pass through itself.',
        remedy: 'Give shorter sides. The place is shown in the view.',
        places: made.places.slice(-MOST_PLACES),
        field: 'edge',
        fixes: [{ label: `Take ${plain(asked / 2)} mm`, params: { edge: asked / 2 } }],
      },
    }
  return {
    ok: true,
    value: made.solid,
    issues:
      made.shorter.length === 0
        ? []
        : [
            {
              code: 'shorter-there',
              severity: 'note',
              message: 'Sides are shorter, or as they were, where the surface would pass through itself otherwise.',
              remedy: 'The places are shown in the view. Shorter sides all over make them alike.',
              places: made.shorter.slice(0, MOST_PLACES),
              field: 'edge',
            },
          ],
    told: `${triangleCount(solid).toLocaleString('en')} → ${triangleCount(made.solid).toLocaleString('en')} triangles`,
  }
}

const MOST_PLACES = 8

/** More triangles than this are not made. */
const MOST = 2_000_000
