import type { Point } from '../check/rays'
import { isClosed } from '../check/closed'
import { gather } from '../solid/operations'
import { type Solid, vertexCount, withParts } from '../solid/solid'
import { VertexTable } from '../solid/vertex-table'

/**
 * A solid whose ends have come to lie against each other, as those of a bar that is bent once round, grown together there: the two faces between them go, and their
 * borders are one. The same solid where no faces lie against each other; where they are not alike, so that it would not be closed, the places where they meet.
 */
export function joinedEnds(solid: Solid): Solid | Point[] {
  const { positions: p, indices } = solid
  const count = vertexCount(solid)
  const table = new VertexTable(solid.lattice)
  const first: number[] = []
  /** the first vertex at each one's place, and whether others lie there too */
  const of = new Uint32Array(count)
  const met = new Uint8Array(count)
  for (let v = 0; v < count; v++) {
    const place = table.vertex(p[3 * v], p[3 * v + 1], p[3 * v + 2])
    if (place === first.length) first.push(v)
    of[v] = first[place]
    if (of[v] === v) continue
    met[v] = met[of[v]] = 1
  }
  const kept = Uint32Array.from(solid.surface.keys()).filter((t) => !(met[indices[3 * t]] && met[indices[3 * t + 1]] && met[indices[3 * t + 2]]))
  if (kept.length === solid.surface.length) return solid
  const places = () => Array.from(of.keys()).flatMap((v): Point[] => (of[v] === v ? [] : [[p[3 * v], p[3 * v + 1], p[3 * v + 2]]]))
  const welded = indices.map((v) => of[v])
  for (const t of kept) {
    const [a, b, c] = [welded[3 * t], welded[3 * t + 1], welded[3 * t + 2]]
    if (a === b || b === c || a === c) return places()
  }
  const joined = gather({ ...solid, indices: welded }, kept)
  return isClosed(joined) ? withParts(joined) : places()
}
