import { buildBoxTree, forEachMeetingPair } from './tree'
import { planesOf, trianglesCross } from './triangles'

/** Pairs of triangles of a mesh that cross (see trianglesCross); no more than `most` are looked for, and none among pairs that are `known` not to. */
export function crossingPairs(
  positions: ArrayLike<number>,
  indices: ArrayLike<number>,
  most: number,
  known?: (s: number, t: number) => boolean,
): [number, number][] {
  const found: [number, number][] = []
  if (indices.length === 0) return found
  const planes = planesOf(positions, indices)
  forEachMeetingPair(buildBoxTree(positions, indices), (s, t) => {
    if (known?.(s, t)) return true
    if (trianglesCross(positions, indices, s, t, planes)) found.push([s, t])
    return found.length < most
  })
  return found
}
