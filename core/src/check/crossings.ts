import { oppositesOf } from './edges'
import { Stars } from './stars'
import { terrainNodes } from './terrain'
import { buildBoxTree, forEachMeetingPair, singleOwners } from './tree'
import { planesOf, trianglesCross } from './triangles'

/**
 * Pairs of triangles of a mesh that cross (see trianglesCross), in order of where they lie; no more than `most` are looked for. Triangles that have one of the `owners`, numbers other than 0, are
 * known not to cross each other (see SoundTriangles). `opposite`, as oppositesOf has it, is found where it is not given.
 */
export function crossingPairs(
  positions: ArrayLike<number>,
  indices: ArrayLike<number>,
  most: number,
  { owners, opposite }: { owners?: Int32Array; opposite?: Int32Array } = {},
): [number, number][] {
  const found: [number, number][] = []
  if (indices.length === 0) return found
  const tree = buildBoxTree(positions, indices, { flatsApart: true })
  const single = owners && singleOwners(tree, owners)
  if (single && single[0] > 0) return found
  const planes = planesOf(positions, indices)
  const apart = terrainNodes(tree, positions, indices, planes, opposite ?? oppositesOf(indices))
  let stars: Stars | undefined
  /** most pairs are neighbours, and most of those are told by the vertex they share */
  const spreadAtOne = (s: number, t: number): boolean => {
    for (let i = 3 * s; i < 3 * s + 3; i++) {
      const v = indices[i]
      if (v !== indices[3 * t] && v !== indices[3 * t + 1] && v !== indices[3 * t + 2]) continue
      stars ??= new Stars(positions, indices, planes)
      if (stars.isSpread(v)) return true
    }
    return false
  }
  forEachMeetingPair(
    tree,
    (s, t) => {
      if ((owners && owners[s] > 0 && owners[s] === owners[t]) || spreadAtOne(s, t)) return true
      if (trianglesCross(positions, indices, s, t, planes)) found.push([s, t])
      return found.length < most
    },
    { single, apart },
  )
  return inPlace(positions, indices, found)
}

/**
 * Pairs in the order in which they lie in space, and so each of them: what mends them goes by that, and pieces that have a face in common are to be mended alike however
 * their triangles are numbered.
 */
function inPlace(p: ArrayLike<number>, ids: ArrayLike<number>, pairs: readonly [number, number][]): [number, number][] {
  // the middle of a triangle, thrice
  const at = (t: number, k: number) => p[3 * ids[3 * t] + k] + p[3 * ids[3 * t + 1] + k] + p[3 * ids[3 * t + 2] + k]
  const before = (s: number, t: number) => at(s, 0) - at(t, 0) || at(s, 1) - at(t, 1) || at(s, 2) - at(t, 2) || s - t
  return pairs.map(([s, t]): [number, number] => (before(s, t) < 0 ? [s, t] : [t, s])).sort((a, b) => before(a[0], b[0]) || before(a[1], b[1]))
}
