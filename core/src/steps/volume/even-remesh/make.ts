import { hashJson } from '../../../cache/hash'
import { checkMesh } from '../../../check/check'
import { stoutTriangles } from '../../../solid/flip'
import { joinPlaced, type Placed } from '../../../solid/operations'
import { type Solid, triangleCount } from '../../../solid/solid'
import { bodiesApart, bodiesMeet, bodyKey } from '../../../solid/bodies-apart'
import { evenlyRemeshed } from '../../../volume/even-remesh'
import { type LabelledMesh, labelled, solidOf as solidOfMesh } from '../../../volume/labelled'
import { lengthsByBend, trianglesFor, trianglesNear } from '../../../volume/side-lengths'
import { plain } from '../../meta'
import { solidOf } from '../../shared/joining'
import { certified, onLattice } from '../../shared/surfaces'
import { type Evaluate, failed, type StepContext } from '../../step'
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

type Places = readonly (readonly [number, number, number])[]

interface SideValues {
  readonly edge: number
  readonly fit: 'one' | 'bend'
  readonly least: number
  readonly within: number
  readonly creases: number
}

type Remeshed = { readonly ok: true; readonly solid: Solid; readonly shorter: Places } | { readonly ok: false; readonly places: Places }

function lengthsFor(source: LabelledMesh, { edge, fit, least, within, creases }: SideValues): Float32Array {
  return fit === 'bend' ? lengthsByBend(source, creases, { most: edge, least, within }) : new Float32Array(source.indices.length / 3).fill(edge)
}

/**
 * A solid with even triangles, certified. Where it would cross itself its sides are made shorter; where that does not help either, as at the point of a needle, triangles stay
 * as they were, and more of them until nothing crosses: those of the solid do not.
 */
async function remeshedSolid(solid: Solid, values: SideValues, context: Pick<StepContext, 'breathe' | 'progress'>): Promise<Remeshed> {
  const source = labelled(stoutTriangles(solid))
  const { edge, creases } = values
  let lengths = values.fit === 'bend' ? lengthsFor(source, values) : undefined
  let kept: Uint8Array | undefined
  let places: Places = []
  for (let tried = 0; tried < TRIES; tried++) {
    const mesh = await evenlyRemeshed(source, edge, creases, () => context.breathe(), { lengths, kept })
    context.progress(0.3 + (0.6 * (tried + 1)) / TRIES)
    const result = certified(solidOfMesh({ ...mesh, positions: onLattice(mesh.positions, solid.lattice) }, solid, solid.lattice))
    if (result.ok) return { ok: true, solid: result.solid, shorter: places }
    places = [...places, ...result.all]
    const near = trianglesNear(source, result.all, AROUND * edge)
    if (tried < HALVINGS) lengths = (lengths ?? lengthsFor(source, values)).map((length, t) => (near[t] ? length / 2 : length))
    else {
      const before = kept
      kept = near.map((is, t) => (before?.[t] || is ? 1 : 0))
    }
    await context.breathe()
  }
  return { ok: false, places }
}

/**
 * Each body of a solid by itself, which it keeps as long as it is the same: what is made again where one of them crosses itself, or when a letter is
 * typed anew, is that one. Undefined where there is but one, or two of them have come to lie in each other.
 */
async function bodyByBody(solid: Solid, values: SideValues, context: StepContext): Promise<Remeshed | undefined> {
  const { lattice } = solid
  const bodies = bodiesApart(solid, { voxel: lattice, apart: -Infinity, lattice })
  if (!bodies) return undefined
  const made: Placed[] = []
  const shorter: (readonly [number, number, number])[] = []
  for (const [i, body] of bodies.entries()) {
    const key = `even-remesh:${hashJson(values)}:${bodyKey(body.solid)}`
    let one = context.memo.peek<Remeshed>(key)
    if (!one) {
      one = await remeshedSolid(body.solid, values, { breathe: () => context.breathe(), progress: () => {} })
      context.memo.put(key, one)
    }
    context.progress((0.9 * (i + 1)) / bodies.length)
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

/** How often something else is tried where the surface crosses itself, how often that is shorter sides, and how far round about, in sides. */
const TRIES = 9
const HALVINGS = 2
const AROUND = 1.5
