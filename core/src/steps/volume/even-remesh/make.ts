import { hashJson } from '../../../cache/hash'
import { checkMesh } from '../../../check/check'
import { joinPlaced, type Placed } from '../../../solid/operations'
import { type Solid, triangleCount } from '../../../solid/solid'
import { bodiesApart, bodiesMeet, bodyKey } from '../../../solid/bodies-apart'
import { labelled } from '../../../volume/labelled'
import { trianglesFor } from '../../../volume/side-lengths'
import { plain } from '../../meta'
import { eachMade } from '../../shared/each-made'
import { solidOf } from '../../shared/joining'
import { type Evaluate, failed, type StepContext } from '../../step'
import { lengthsFor, type Places, remeshBody, type Remeshed, remeshedSolid, type SideValues } from './body'
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
  const made = (await bodyByBody(solid, values, context)) ?? (await remeshedSolid(solid, values, context))
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

/**
 * Each body of a solid by itself, which it keeps as long as it is the same: what is made again where one of them crosses itself, or when a letter is
 * typed anew, is that one. Undefined where there is but one, or two of them have come to lie in each other.
 */
async function bodyByBody(solid: Solid, values: SideValues, context: StepContext): Promise<Remeshed | undefined> {
  const { lattice } = solid
  const bodies = bodiesApart(solid, { voxel: lattice, apart: -Infinity, lattice })
  if (!bodies) return undefined
  const told = hashJson(values)
  // where they bend sides come to be anything between the two
  const about = values.fit === 'bend' ? Math.sqrt(values.edge * values.least) : values.edge
  const results = await eachMade(
    remeshBody,
    bodies.map((body) => ({
      key: `even-remesh:${told}:${bodyKey(body.solid)}`,
      data: { solid: body.solid, values },
      takes: triangleCount(body.solid) * PER_GIVEN + trianglesFor(body.solid, new Float32Array(triangleCount(body.solid)).fill(about)) * PER_MADE,
    })),
    context,
    0.9,
  )
  const made: Placed[] = []
  const shorter: (readonly [number, number, number])[] = []
  for (const [i, body] of bodies.entries()) {
    const one = results[i]
    const moved = (places: Places) => places.map(([x, y, z]) => [x + body.dx, y + body.dy, z + body.dz] as const)
    if (!one.ok) return { ok: false, places: moved(one.places) }
    made.push({ ...body, solid: one.solid })
    shorter.push(...moved(one.shorter))
  }
  const whole = joinPlaced(made, solid.letters, lattice, solid.layers)
  return bodiesMeet(made) && !checkMesh(whole).sound ? undefined : { ok: true, solid: whole, shorter }
}

const MOST_PLACES = 8

/** More triangles than this are not made. */
const MOST = 2_000_000

/** About how long a triangle that comes in takes, and one that comes out, ms. */
const PER_GIVEN = 0.004
const PER_MADE = 0.01
