import { NONE } from '../solid/labels'
import { gather, joinSolids } from '../solid/operations'
import type { Solid } from '../solid/solid'
import type { Cells } from './cells'
import { type Fragment, isClosed, wallPlaces } from './fragment'
import { volumeOf } from './samples'

/**
 * Pieces grown together until there are no more than asked: the smallest first, each with the neighbour it has the largest break face in common with. Pieces that
 * touch no other stay, so that there may be more.
 */
export function mergedTo(fragments: readonly Fragment[], { walls }: Cells, most: number): { readonly shards: Fragment[]; readonly merged: number } {
  if (fragments.length <= most) return { shards: [...fragments], merged: 0 }
  const common = new CommonFaces(fragments, walls.length)
  const groups = common.grouped(most)
  const shards = groups.flatMap((group) => {
    if (group.length === 1) return [fragments[group[0]]]
    const whole = common.grownTogether(group)
    // what would touch itself in a line or a point stays apart
    return isClosed(whole.solid) ? [whole] : group.map((i) => fragments[i])
  })
  return { shards, merged: fragments.length - shards.length }
}

const SHIFT = 67108864

/** Triangles of break faces that two pieces have in common, turned over. */
class CommonFaces {
  private readonly places: readonly Int32Array[]
  /** of each wall the pieces' triangles by their least corner and the one after it; a wall's two sides have the same three corners the other way round */
  private readonly byCorners = new Map<number, Map<number, { readonly fragment: number; readonly third: number }[]>>()
  /** mm² that pieces have in common with others */
  private readonly shared = new Map<number, Map<number, number>>()

  constructor(
    private readonly fragments: readonly Fragment[],
    walls: number,
  ) {
    this.places = wallPlaces(fragments)
    for (let w = 0; w < walls; w++) this.byCorners.set(w, new Map())
    fragments.forEach(({ wall }, fragment) => {
      for (let t = 0; t < wall.length; t++) {
        const [i, j, k] = this.corners(fragment, t)
        const known = this.byCorners.get(wall[t])
        if (!known) continue
        const key = i * SHIFT + j
        const list = known.get(key)
        if (list) list.push({ fragment, third: k })
        else known.set(key, [{ fragment, third: k }])
      }
    })
    fragments.forEach(({ solid, wall }, fragment) => {
      for (let t = 0; t < wall.length; t++) {
        const mate = this.mate(fragment, t)
        if (mate === undefined) continue
        const areas = this.shared.get(fragment) ?? new Map<number, number>()
        this.shared.set(fragment, areas)
        areas.set(mate, (areas.get(mate) ?? 0) + areaOf(solid, t))
      }
    })
  }

  /** The places of a triangle's corners, the least first. */
  private corners(fragment: number, t: number): [number, number, number] {
    const { indices } = this.fragments[fragment].solid
    const place = this.places[fragment]
    const [a, b, c] = [place[indices[3 * t]], place[indices[3 * t + 1]], place[indices[3 * t + 2]]]
    return a < b && a < c ? [a, b, c] : b < c ? [b, c, a] : [c, a, b]
  }

  /** The piece on the other side of a triangle; undefined where there is none. */
  private mate(fragment: number, t: number): number | undefined {
    const w = this.fragments[fragment].wall[t]
    if (w === NONE) return undefined
    const [i, j, k] = this.corners(fragment, t)
    return this.byCorners
      .get(w)
      ?.get(i * SHIFT + k)
      ?.find((entry) => entry.third === j && entry.fragment !== fragment)?.fragment
  }

  /** Which pieces go together, in the order of their first ones. */
  grouped(most: number): number[][] {
    const { fragments, shared } = this
    const members = new Map<number, number[]>(fragments.map((_, i) => [i, [i]]))
    const volumes = fragments.map(({ solid }) => volumeOf(solid))
    const alone = new Set<number>()
    while (members.size > most) {
      let smallest = -1
      for (const i of members.keys()) if (!alone.has(i) && (smallest < 0 || volumes[i] < volumes[smallest])) smallest = i
      if (smallest < 0) break
      const areas = shared.get(smallest) ?? new Map<number, number>()
      let [best, mate] = [0, -1]
      for (const [other, area] of areas) if (area > best || (area === best && other < mate)) [best, mate] = [area, other]
      if (mate < 0) {
        alone.add(smallest)
        continue
      }
      members.get(mate)?.push(...(members.get(smallest) as number[]))
      members.delete(smallest)
      volumes[mate] += volumes[smallest]
      alone.delete(mate)
      for (const [other, area] of areas) {
        shared.get(other)?.delete(smallest)
        if (other === mate) continue
        for (const [a, b] of [
          [mate, other],
          [other, mate],
        ]) {
          const list = shared.get(a) ?? new Map<number, number>()
          shared.set(a, list)
          list.set(b, (list.get(b) ?? 0) + area)
        }
      }
    }
    return [...members.values()].map((list) => list.sort((a, b) => a - b)).sort(([a], [b]) => a - b)
  }

  /** Pieces as one, without the faces between them. */
  grownTogether(group: readonly number[]): Fragment {
    const list = group.map((i) => this.fragments[i])
    const letters = list[0].solid.letters
    const whole = { ...joinSolids(list.map(({ solid }) => ({ ...solid, letters: [] }))), letters }
    const own = new Set(group)
    const kept: number[] = []
    const wall: number[] = []
    /** the first vertex at each place, and which one each vertex becomes */
    const first = new Map<number, number>()
    const of = new Uint32Array(whole.positions.length / 3)
    let [vertex, triangle] = [0, 0]
    for (const i of group) {
      const { solid, wall: walls } = this.fragments[i]
      const place = this.places[i]
      for (let v = 0; v < place.length; v++, vertex++) {
        const known = place[v] < 0 ? vertex : (first.get(place[v]) ?? vertex)
        if (place[v] >= 0) first.set(place[v], known)
        of[vertex] = known
      }
      for (let t = 0; t < solid.indices.length / 3; t++, triangle++) {
        const mate = this.mate(i, t)
        if (mate !== undefined && own.has(mate)) continue
        kept.push(triangle)
        wall.push(walls[t])
      }
    }
    const welded = gather({ ...whole, indices: whole.indices.map((v) => of[v]) }, kept)
    return { solid: welded, cell: NONE, wall: Int32Array.from(wall) }
  }
}

function areaOf({ positions: p, indices }: Solid, t: number): number {
  const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
  const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]]
  const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]]
  return Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2
}
