import { oppositesOf } from '../check/edges'
import type { SoundTriangles } from '../check/sound-triangles'
import { INSIDE, NONE } from '../solid/labels'
import { split } from '../solid/operations'
import { partHomes } from '../solid/part-homes'
import type { Solid } from '../solid/solid'
import { VertexTable } from '../solid/vertex-table'

/** The band of faces that broke, and that of cells' walls until pieces are finished. */
export const BREAK = 'break'
export const WALL = 'wall of a cell'

/** A piece while things are broken: wall numbers stand in the label `copy` of its break faces. */
export interface Fragment {
  readonly solid: Solid
  readonly cell: number
  /** the wall of each triangle; NONE of the outside */
  readonly wall: Int32Array
  /** what is known to be sound of it: the triangles of what it was broken out of, or its own when they were looked at last */
  readonly known: SoundTriangles
}

/** A piece of a cell, which knows its walls. */
export function asFragment(solid: Solid, cell: number, known: SoundTriangles): Fragment {
  const band = solid.bands.indexOf(WALL)
  const { labels, surface } = solid
  const ofRow = labels.copy.map((number, row) => (labels.group[row] === INSIDE && labels.band[row] === band ? number : NONE))
  const wall = new Int32Array(surface.length)
  for (let t = 0; t < wall.length; t++) wall[t] = ofRow[surface[t]]
  return { solid, cell, wall, known }
}

const opposites = new WeakMap<Solid, Int32Array>()

/** What oppositesOf tells of a solid, found once for as long as it is the same. */
export function oppositesIn(solid: Solid): Int32Array {
  let known = opposites.get(solid)
  if (!known) opposites.set(solid, (known = oppositesOf(solid.indices)))
  return known
}

/** Connected bodies of a solid, hollows with the body they lie in. */
export function connectedSolids(solid: Solid): Solid[] {
  const homes = partHomes(solid)
  if (homes.every((home) => home === homes[0])) return [solid]
  return [...split(solid, (t) => homes[solid.labels.part[solid.surface[t]]])].sort(([a], [b]) => a - b).map(([, part]) => part)
}

/** Of every piece and each of its vertices the number of its place, the same in all pieces; NONE for those that are at no break face. */
export function wallPlaces(fragments: readonly Fragment[]): Int32Array[] {
  const table = new VertexTable(fragments[0]?.solid.lattice ?? 2 ** -14)
  return fragments.map(({ solid, wall }) => {
    const place = new Int32Array(solid.positions.length / 3).fill(NONE)
    const p = solid.positions
    for (let t = 0; t < wall.length; t++) {
      if (wall[t] === NONE) continue
      for (let k = 0; k < 3; k++) {
        const v = solid.indices[3 * t + k]
        if (place[v] < 0) place[v] = table.vertex(p[3 * v], p[3 * v + 1], p[3 * v + 2])
      }
    }
    return place
  })
}
