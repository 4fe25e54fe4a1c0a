import { NONE } from '../solid/labels'
import { mapAttributes, pickPlaces } from '../solid/attributes'
import { gather, joinSolids } from '../solid/operations'
import { type Solid, vertexCount } from '../solid/solid'
import { VertexTable } from '../solid/vertex-table'
import { volumeOf } from './samples'
import type { Cells } from './cells'
import { type Fragment, isClosed } from './fragment'

/**
 * Pieces grown together until there are no more than asked: the smallest first, each with the neighbour it has the largest break face in common with. Pieces that
 * touch no other stay, so that there may be more.
 */
export function mergedTo(fragments: readonly Fragment[], { walls }: Cells, most: number): { readonly shards: Fragment[]; readonly merged: number } {
  const now: (Fragment | undefined)[] = [...fragments]
  const volumes = fragments.map(({ solid }) => volumeOf(solid))
  let left = fragments.length
  if (left > most) {
    const shared = sharedAreas(fragments, walls.length)
    const alone = new Set<number>()
    while (left > most) {
      let smallest = -1
      for (let i = 0; i < now.length; i++) if (now[i] && !alone.has(i) && (smallest < 0 || volumes[i] < volumes[smallest])) smallest = i
      if (smallest < 0) break
      const mates = [...(shared.get(smallest) ?? [])].sort((a, b) => b[1] - a[1] || a[0] - b[0])
      const grown = mates
        .map(([mate]) => ({ mate, whole: grownTogether([now[mate] as Fragment, now[smallest] as Fragment]) }))
        .find(({ whole }) => isClosed(whole.solid))
      if (!grown) {
        alone.add(smallest)
        continue
      }
      const { mate, whole } = grown
      now[mate] = whole
      now[smallest] = undefined
      volumes[mate] += volumes[smallest]
      alone.delete(mate)
      for (const [other, area] of shared.get(smallest) ?? []) {
        shared.get(other)?.delete(smallest)
        if (other === mate) continue
        for (const [a, b] of [
          [mate, other],
          [other, mate],
        ]) {
          const areas = shared.get(a) ?? new Map<number, number>()
          shared.set(a, areas)
          areas.set(b, (areas.get(b) ?? 0) + area)
        }
      }
      left--
    }
  }
  const shards = now.filter((fragment) => fragment !== undefined)
  return { shards, merged: fragments.length - shards.length }
}

/** What pieces have in common, mm²: of each the others with their areas. Triangles that are alike but turned over count. */
function sharedAreas(fragments: readonly Fragment[], walls: number): Map<number, Map<number, number>> {
  const shared = new Map<number, Map<number, number>>()
  const lists: { fragment: number; key: string; turned: string; area: number }[][] = Array.from({ length: walls }, () => [])
  fragments.forEach(({ solid, wall }, fragment) => {
    for (let t = 0; t < wall.length; t++) if (wall[t] !== NONE) lists[wall[t]].push({ fragment, ...triangleKeys(solid, t), area: areaOf(solid, t) })
  })
  for (const list of lists) {
    const by = new Map(list.map((entry) => [entry.key, entry]))
    for (const { fragment, turned, area } of list) {
      const mate = by.get(turned)?.fragment
      if (mate === undefined) continue
      const areas = shared.get(fragment) ?? new Map<number, number>()
      shared.set(fragment, areas)
      areas.set(mate, (areas.get(mate) ?? 0) + area)
    }
  }
  return shared
}

function triangleKeys({ positions: p, indices }: Solid, t: number): { readonly key: string; readonly turned: string } {
  const corners = [0, 1, 2].map((k) => {
    const v = 3 * indices[3 * t + k]
    return `${p[v]},${p[v + 1]},${p[v + 2]}`
  })
  const first = corners.indexOf(corners.reduce((a, b) => (a < b ? a : b)))
  const [a, b, c] = [corners[first], corners[(first + 1) % 3], corners[(first + 2) % 3]]
  return { key: `${a} ${b} ${c}`, turned: `${a} ${c} ${b}` }
}

function areaOf({ positions: p, indices }: Solid, t: number): number {
  const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
  const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]]
  const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]]
  return Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2
}

/** Pieces as one, without the walls between them. */
function grownTogether(list: readonly Fragment[]): Fragment {
  const letters = list[0].solid.letters
  const whole = { ...joinSolids(list.map(({ solid }) => ({ ...solid, letters: [] }))), letters }
  const wall = Int32Array.from(list.flatMap(({ wall }) => Array.from(wall)))
  const keys = Array.from(wall, (w, t) => (w === NONE ? undefined : triangleKeys(whole, t)))
  const own = new Set(keys.flatMap((key) => key?.key ?? []))
  const kept = Uint32Array.from(wall.keys()).filter((t) => !(keys[t] && own.has((keys[t] as { turned: string }).turned)))
  const table = new VertexTable(whole.lattice)
  const p = whole.positions
  const at = Uint32Array.from({ length: vertexCount(whole) }, (_, v) => table.vertex(p[3 * v], p[3 * v + 1], p[3 * v + 2]))
  const first = new Int32Array(at.length).fill(-1)
  at.forEach((place, v) => {
    if (first[place] < 0) first[place] = v
  })
  const positions = table.vertexPositions()
  const welded: Solid = {
    ...whole,
    positions,
    indices: whole.indices.map((v) => at[v]),
    attributes: mapAttributes(whole.attributes, (_, array, { at: where, size }) =>
      where === 'vertex' ? pickPlaces(array, size, first.subarray(0, positions.length / 3)) : array,
    ),
  }
  return { solid: gather(welded, kept), cell: NONE, wall: Int32Array.from(kept, (t) => wall[t]) }
}
