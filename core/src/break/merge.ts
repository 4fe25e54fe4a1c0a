import { NONE } from '../solid/labels'
import { checkMesh } from '../check/check'
import { crossingPairs } from '../check/crossings'
import { SoundTriangles } from '../check/sound-triangles'
import { gather, joinSolids } from '../solid/operations'
import { PairTable } from '../solid/pair-table'
import type { Solid } from '../solid/solid'
import { type Fragment, oppositesIn, wallPlaces } from './fragment'
import { volumeOf } from '../solid/volume'

interface Merged {
  readonly shards: Fragment[]
  readonly merged: number
  /** those that were grown together, and seen to be sound */
  readonly checked: ReadonlySet<Fragment | undefined>
}

/**
 * Pieces grown together until there are no more than asked: the smallest first, each with the neighbour it has the largest break face in common with. Pieces that
 * touch no other stay, so that there may be more.
 */
export function mergedTo(fragments: readonly Fragment[], most: number): Merged {
  if (fragments.length <= most) return { shards: [...fragments], merged: 0, checked: new Set() }
  const common = new CommonFaces(fragments)
  const made = new Map<string, Fragment | undefined>()
  /** a group as one piece; undefined where it would touch or cross itself */
  const whole = (group: readonly number[]): Fragment | undefined => {
    const key = group.join()
    if (group.length === 1) return fragments[group[0]]
    if (!made.has(key)) {
      const grown = common.grownTogether(group)
      made.set(key, isSound(grown) ? grown : undefined)
    }
    return made.get(key)
  }
  const never = new Set<string>()
  for (let round = 0; ; round++) {
    const groups = common.grouped(most, never)
    const bad = groups.filter(({ members }) => !whole(members))
    if (bad.length === 0 || round === REGROUPED) {
      const shards = groups.flatMap(({ members }) => whole(members) ?? members.map((i) => fragments[i]))
      return { shards, merged: fragments.length - shards.length, checked: new Set(made.values()) }
    }
    // the first two that must not go together
    for (const { steps } of bad) {
      const wrong = steps.find(({ together }) => !whole(together)) ?? steps[steps.length - 1]
      never.add(wrong.pair)
    }
  }
}

/** How often pieces are grouped anew because some would touch themselves. */
const REGROUPED = 12

const isSound = ({ solid, known }: Fragment): boolean => {
  const opposite = oppositesIn(solid)
  return (
    checkMesh(solid, { deep: false, opposite }).sound &&
    crossingPairs(solid.positions, solid.indices, 1, { owners: known.ownersIn(solid), opposite }).length === 0
  )
}

/** Pieces that go together, and how they came to. */
interface Group {
  readonly members: readonly number[]
  readonly steps: readonly { readonly together: readonly number[]; readonly pair: string }[]
}

/** Triangles of break faces that two pieces have in common, turned over. */
class CommonFaces {
  private readonly places: readonly Int32Array[]
  /** the last of the triangles that have a least corner and one after it; a wall's two sides have the same three corners the other way round */
  private readonly last: PairTable
  /** of each triangle its piece, its third corner, its wall, and the one before it with the same two */
  private readonly listed: number[] = []
  /** mm² that pieces have in common with others */
  private readonly shared = new Map<number, Map<number, number>>()

  constructor(private readonly fragments: readonly Fragment[]) {
    this.places = wallPlaces(fragments)
    this.last = new PairTable(fragments.reduce((sum, { wall }) => sum + wall.length / 2, 0))
    const { listed } = this
    fragments.forEach(({ wall }, fragment) => {
      for (let t = 0; t < wall.length; t++) {
        if (wall[t] === NONE) continue
        const [i, j, k] = this.corners(fragment, t)
        const before = this.last.get(i, j)
        this.last.set(i, j, listed.length)
        listed.push(fragment, k, wall[t], before)
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
    const { listed } = this
    let first: number | undefined
    for (let at = this.last.get(i, k); at >= 0; at = listed[at + 3])
      if (listed[at + 1] === j && listed[at + 2] === w && listed[at] !== fragment) first = listed[at]
    return first
  }

  /** Which pieces go together, in the order of their first ones; of pairs in `never` the two do not. */
  grouped(most: number, never: ReadonlySet<string>): Group[] {
    const { fragments } = this
    const shared = new Map([...this.shared].map(([i, areas]) => [i, new Map(areas)]))
    const groups = new Map<number, { members: number[]; steps: { together: number[]; pair: string }[] }>(
      fragments.map((_, i) => [i, { members: [i], steps: [] }]),
    )
    const volumes = fragments.map(({ solid }) => volumeOf(solid))
    const alone = new Set<number>()
    while (groups.size > most) {
      let smallest = -1
      for (const i of groups.keys()) if (!alone.has(i) && (smallest < 0 || volumes[i] < volumes[smallest])) smallest = i
      const own = groups.get(smallest)
      if (!own) break
      const areas = shared.get(smallest) ?? new Map<number, number>()
      let [best, mate] = [0, -1]
      for (const [other, area] of areas)
        if ((area > best || (area === best && other < mate)) && !never.has(`${smallest} ${other}`)) [best, mate] = [area, other]
      const other = groups.get(mate)
      if (!other) {
        alone.add(smallest)
        continue
      }
      other.members.push(...own.members)
      other.steps.push(...own.steps, { together: [...other.members].sort((a, b) => a - b), pair: `${smallest} ${mate}` })
      groups.delete(smallest)
      volumes[mate] += volumes[smallest]
      alone.delete(mate)
      for (const [third, area] of areas) {
        shared.get(third)?.delete(smallest)
        if (third === mate) continue
        for (const [a, b] of [
          [mate, third],
          [third, mate],
        ]) {
          const list = shared.get(a) ?? new Map<number, number>()
          shared.set(a, list)
          list.set(b, (list.get(b) ?? 0) + area)
        }
      }
    }
    return [...groups.values()].map(({ members, steps }) => ({ members: members.sort((a, b) => a - b), steps })).sort((a, b) => a.members[0] - b.members[0])
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
    return { solid: welded, cell: NONE, wall: Int32Array.from(wall), known: new SoundTriangles(list.map(({ solid }) => solid)) }
  }
}

function areaOf({ positions: p, indices }: Solid, t: number): number {
  const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
  const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]]
  const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]]
  return Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2
}
