import { mendedSolid } from '../join/placed'
import { united } from '../join/united'
import { loadManifold } from '../kernel/manifold'
import { type Assembly, assemblyTriangles, copiesIn, copyBoxes, copySolid, shardNames } from '../solid/assembly'
import { NONE } from '../solid/labels'
import { joinPlaced, joinSolids } from '../solid/operations'
import { type Solid, triangleCount } from '../solid/solid'
import { forMeetingBoxes } from './boxes'

/** An assembly of more triangles is not made one solid. */
const MOST_TRIANGLES = 2_000_000
/** Copies whose boxes come nearer than this meet, mm. */
const NEAR = 2 ** -6

/** A stretch of a solid's triangles with a name of its own; '' for none. */
export interface Body {
  readonly name: string
  readonly triangles: number
}

/** An assembly as one solid, or why it cannot be one, in words. */
export type OneSolid =
  | {
      readonly ok: true
      readonly solid: Solid
      /** shards that were kept apart: what they are called and how many triangles each has, in their order; all before them are of no name */
      readonly bodies: readonly Body[]
    }
  | {
      readonly ok: false
      readonly code: 'too-many-triangles' | 'not-united'
      readonly message: string
      readonly remedy: string
      readonly places?: readonly (readonly [number, number, number])[]
    }

/**
 * An assembly as one sound solid: copies that meet are united, the others stand as they are, mended where turning them has spoilt the rounding. Not for
 * more than two million triangles. With `piecesApart` shards are not united, as files want them: closed bodies that may lie face to face.
 */
export async function asOneSolid(assembly: Assembly, breathe: () => Promise<void> = async () => {}, piecesApart = false): Promise<OneSolid> {
  const triangles = assemblyTriangles(assembly)
  if (triangles > MOST_TRIANGLES)
    return {
      ok: false,
      code: 'too-many-triangles',
      message: `As one solid the ${copiesIn(assembly).toLocaleString('en')} copies would have ${triangles.toLocaleString('en')} triangles; ${MOST_TRIANGLES.toLocaleString('en')} are the most.`,
      remedy: 'Make fewer copies, reduce the unit, or write a format that keeps copies (GLB, 3MF).',
    }
  await loadManifold()
  const parts: Solid[] = []
  const { shard } = assembly.placements
  const apart = piecesApart ? [...shard.keys()].filter((i) => shard[i] !== NONE) : []
  const others = [...shard.keys()].filter((i) => !piecesApart || shard[i] === NONE)
  const boxes = copyBoxes(assembly)
  const near = Float64Array.from(others.flatMap((i) => Array.from(boxes.subarray(6 * i, 6 * i + 6))))
  const groups = [...meeting(near).map((group) => group.map((i) => others[i])), ...apart.map((i) => [i])]
  for (const group of groups) {
    await breathe()
    const solids = group.map((i) => copySolid(assembly, i))
    const whole = solids.length > 1 ? united(solids) : placed(solids[0])
    if (!whole?.ok)
      return {
        ok: false,
        code: 'not-united',
        message: 'Copies that meet cannot be united soundly.',
        remedy: 'Move the copies a little apart, or further into each other. The place is shown in the view.',
        places: whole?.places,
      }
    parts.push(whole.solid)
  }
  if (parts.length === 0) return { ok: true, solid: joinPlaced([], assembly.letters, assembly.lattice), bodies: [] }
  // numbers of letters are of one list already
  const whole = joinSolids(parts.map((part) => ({ ...part, letters: [] })))
  const names = apart.length > 0 ? shardNames(assembly) : []
  const bodies =
    apart.length === 0 ? [] : parts.map((part, k) => ({ name: names[apart[k - (parts.length - apart.length)]] ?? '', triangles: triangleCount(part) }))
  return { ok: true, solid: { ...whole, letters: assembly.letters, lattice: assembly.lattice }, bodies }
}

function placed(solid: Solid) {
  const { solid: mended, mended: how } = mendedSolid(solid)
  return how.sound ? { ok: true as const, solid: mended } : { ok: false as const, places: how.places }
}

/** Numbers of boxes (six numbers each) in groups whose boxes meet, in the order of their first ones. */
export function meeting(boxes: Float64Array): number[][] {
  const count = boxes.length / 6
  const parent = Int32Array.from({ length: count }, (_, i) => i)
  const find = (start: number): number => {
    let i = start
    while (parent[i] !== i) i = parent[i] = parent[parent[i]]
    return i
  }
  forMeetingBoxes(boxes, NEAR, (i, j) => {
    parent[find(i)] = find(j)
  })
  const groups = new Map<number, number[]>()
  for (let i = 0; i < count; i++) {
    const root = find(i)
    const group = groups.get(root)
    if (group) group.push(i)
    else groups.set(root, [i])
  }
  return [...groups.values()]
}
