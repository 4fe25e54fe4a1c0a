import { INSIDE, NONE } from '../solid/labels'
import { split } from '../solid/operations'
import { type Solid, solidBounds } from '../solid/solid'
import { VertexTable } from '../solid/vertex-table'
import { volumeOf } from './samples'

/** The band of faces that broke, and that of cells' walls until pieces are finished. */
export const BREAK = 'break'
export const WALL = 'wall of a cell'

/** A piece while things are broken: wall numbers stand in the label `copy` of its break faces. */
export interface Fragment {
  readonly solid: Solid
  readonly cell: number
  /** the wall of each triangle; NONE of the outside */
  readonly wall: Int32Array
}

/** A piece of a cell, which knows its walls. */
export function asFragment(solid: Solid, cell: number): Fragment {
  const band = solid.bands.indexOf(WALL)
  const { labels, surface } = solid
  return { solid, cell, wall: Int32Array.from(surface, (row) => (labels.group[row] === INSIDE && labels.band[row] === band ? labels.copy[row] : NONE)) }
}

/** Connected bodies of a solid, hollows with the body they lie in. */
export function connectedSolids(solid: Solid): Solid[] {
  const parts = split(solid, (t) => solid.labels.part[solid.surface[t]])
  if (parts.size <= 1) return [solid]
  const list = [...parts].sort(([a], [b]) => a - b).map(([number, part]) => ({ number, part, volume: volumeOf(part), box: solidBounds(part.positions) }))
  const bodies = list.filter(({ volume }) => volume >= 0)
  const home = new Map<number, number>(bodies.map(({ number }, i) => [number, i]))
  for (const hollow of list) {
    if (hollow.volume >= 0) continue
    // the smallest body about it
    let [best, found] = [Infinity, 0]
    bodies.forEach(({ box, volume }, i) => {
      const around = [0, 1, 2].every((k) => box[k] <= hollow.box[k] && box[k + 3] >= hollow.box[k + 3])
      if (around && volume < best) [best, found] = [volume, i]
    })
    home.set(hollow.number, found)
  }
  return [...split(solid, (t) => home.get(solid.labels.part[solid.surface[t]]) as number)].sort(([a], [b]) => a - b).map(([, part]) => part)
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
