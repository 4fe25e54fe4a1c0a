import { hashJson } from '../../cache/hash'
import { checkMesh } from '../../check/check'
import type { Task } from '../../parallel/share-out'
import { bodiesApart, bodyKey, surfacesMeet } from '../../solid/bodies-apart'
import { stoutTriangles } from '../../solid/flip'
import { joinPlaced, type Placed } from '../../solid/operations'
import { type Solid, triangleCount } from '../../solid/solid'
import { volumeOf } from '../../solid/volume'
import { evenlyRemeshed } from '../../volume/even-remesh'
import { type LabelledMesh, labelled, solidOf as solidOfMesh } from '../../volume/labelled'
import { lengthsByBend, trianglesFor, trianglesNear } from '../../volume/side-lengths'
import type { StepContext } from '../step'
import { eachMade } from './each-made'
import { certified, onLattice } from './surfaces'

/** Places, mm. */
export type Places = readonly (readonly [number, number, number])[]

/** How long sides are to be. */
export interface SideValues {
  readonly edge: number
  readonly fit: 'one' | 'bend'
  readonly least: number
  readonly within: number
  readonly creases: number
}

/** A solid with even triangles, and where its sides had to be shorter; or where it would pass through itself. */
export type Remeshed = { readonly ok: true; readonly solid: Solid; readonly shorter: Places } | { readonly ok: false; readonly places: Places }

/** How long sides are to be at each triangle of a mesh, mm. */
export function lengthsFor(source: LabelledMesh, { edge, fit, least, within, creases }: SideValues): Float32Array {
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

/** How often something else is tried where the surface crosses itself, how often that is shorter sides, and how far round about, in sides. */
const TRIES = 9
const HALVINGS = 2
const AROUND = 1.5

/** One body, for other threads. */
export const remeshBody: Task<{ readonly solid: Solid; readonly values: SideValues }, Remeshed> = {
  name: 'even-remesh',
  run: ({ solid, values }, breathe) => remeshedSolid(solid, values, { breathe, progress: () => {} }),
}

/** A solid with even triangles, certified: body by body where it is of several that lie apart, each kept as long as it is the same. */
export const evenSolid = async (solid: Solid, values: SideValues, context: StepContext): Promise<Remeshed> =>
  (await bodyByBody(solid, values, context)) ?? (await remeshedSolid(solid, values, context))

/**
 * Each body of a solid by itself, which it keeps as long as it is the same: what is made again where one of them crosses itself, or when a letter is
 * typed anew, is that one. Undefined where there is but one, one is hollow, or two of them have come to lie in each other.
 */
async function bodyByBody(solid: Solid, values: SideValues, context: StepContext): Promise<Remeshed | undefined> {
  const { lattice } = solid
  const bodies = bodiesApart(solid, { voxel: lattice, apart: -Infinity, lattice })
  // a cavity by itself looks the wrong way, and would never be certified
  if (!bodies || bodies.some((body) => volumeOf(body.solid) < 0)) return undefined
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
  return surfacesMeet(made) && !checkMesh(whole).sound ? undefined : { ok: true, solid: whole, shorter }
}

/** About how long a triangle that comes in takes, and one that comes out, ms. */
const PER_GIVEN = 0.004
const PER_MADE = 0.01
