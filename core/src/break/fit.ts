import { NONE } from '../solid/labels'
import { mapAttributes, pickPlaces } from '../solid/attributes'
import { type Solid, triangleCount } from '../solid/solid'
import type { Cells } from './cells'
import { isClosed } from '../check/closed'
import { PairTable } from '../solid/pair-table'
import { type Fragment, wallPlaces } from './fragment'
import { upTo } from '../solid/vertex-table'

/** One connected stretch of a wall as one piece has it. */
interface Patch {
  readonly fragment: number
  readonly triangles: readonly number[]
  /** its border's sides, by the places they run between */
  readonly border: ReadonlySet<number>
}

const SHIFT = 67108864

export interface Fitted {
  readonly fragments: readonly Fragment[]
  /** stretches of walls of which both sides are the same, and of how many */
  readonly fitting: number
  readonly walls: number
  /** how many of them were the same before */
  readonly alike: number
  /** pieces that got other triangles than they had */
  readonly changed: ReadonlySet<number>
  /** places that only one side of a wall has, and the nearest that both have: what a cut has left out on one side because it was too small */
  readonly odd: readonly { readonly from: readonly number[]; readonly to: readonly number[] }[]
}

/**
 * Makes both sides of every wall the same triangles: where the borders of two neighbours' faces agree, one takes over the other's triangles, turned over; of the two, those of `sources`
 * give. A cut leaves them alike but for how flat polygons are divided into triangles.
 */
export function fitTogether(fragments: readonly Fragment[], { walls }: Cells, sources: ReadonlySet<number>): Fitted {
  const out = [...fragments]
  const places = wallPlaces(fragments)
  const sides = new Map<number, { near: Patch[]; far: Patch[] }>()
  fragments.forEach((fragment, f) => {
    const byWall = new Map<number, number[]>()
    fragment.wall.forEach((w, t) => {
      if (w === NONE || walls[w].other === NONE) return
      const list = byWall.get(w)
      if (list) list.push(t)
      else byWall.set(w, [t])
    })
    for (const [w, list] of byWall) {
      const both = sides.get(w) ?? { near: [], far: [] }
      sides.set(w, both)
      both[fragment.cell === walls[w].cell ? 'near' : 'far'].push(...patchesOf(fragment.solid.indices, places[f], list, f))
    }
  })
  const taken = new Map<number, { readonly gone: readonly number[]; readonly from: Patch; readonly wall: number }[]>()
  let [fitting, all, alike] = [0, 0, 0]
  const odd: { from: number[]; to: number[] }[] = []
  for (const [w, { near, far }] of sides) {
    all += Math.max(near.length, far.length)
    const bySide = new Map<number, Patch>()
    for (const patch of near) for (const side of patch.border) bySide.set(side, patch)
    for (const patch of far) {
      const [first] = patch.border
      const mate = first === undefined ? undefined : bySide.get(turned(first))
      if (!mate || mate.border.size !== patch.border.size || ![...patch.border].every((side) => mate.border.has(turned(side)))) {
        const both = mate ?? near.find(({ border }) => [...patch.border].some((side) => border.has(turned(side))))
        if (both) odd.push(...oddPlaces(patch, both, fragments, places))
        continue
      }
      fitting++
      if (sameTriangles(patch, mate, fragments, places)) {
        alike++
        continue
      }
      const [gives, takes] = sources.has(patch.fragment) && !sources.has(mate.fragment) ? [patch, mate] : [mate, patch]
      const list = taken.get(takes.fragment) ?? []
      taken.set(takes.fragment, list)
      list.push({ gone: takes.triangles, from: gives, wall: w })
    }
  }
  const changed = new Set<number>()
  for (const [f, list] of taken) {
    const fitted = takenOver(out[f], list, fragments, places, f)
    if (isClosed(fitted.solid)) {
      out[f] = fitted
      changed.add(f)
    } else fitting -= list.length
  }
  return { fragments: out, fitting, walls: all, alike, changed, odd }
}

/** A place that only one side has lies so near to one that both have, mm. */
const ODD = 2 ** -6

function oddPlaces(a: Patch, b: Patch, fragments: readonly Fragment[], places: readonly Int32Array[]): { from: number[]; to: number[] }[] {
  const cornersOf = ({ border }: Patch) => new Set([...border].map((side) => side % SHIFT))
  const [own, theirs] = [cornersOf(a), cornersOf(b)]
  const at = ({ fragment }: Patch, place: number) => {
    const v = places[fragment].indexOf(place)
    return Array.from(fragments[fragment].solid.positions.subarray(3 * v, 3 * v + 3))
  }
  const common = [...own].filter((place) => theirs.has(place)).map((place) => at(a, place))
  const only = (patch: Patch, mine: ReadonlySet<number>, others: ReadonlySet<number>) =>
    [...mine]
      .filter((place) => !others.has(place))
      .flatMap((place) => {
        const from = at(patch, place)
        const far = (p: number[]) => Math.hypot(p[0] - from[0], p[1] - from[1], p[2] - from[2])
        const to = common.reduce<number[] | undefined>((best, p) => (far(p) < (best ? far(best) : ODD) ? p : best), undefined)
        return to ? [{ from, to }] : []
      })
  return [...only(a, own, theirs), ...only(b, theirs, own)]
}

/** Whether two stretches are the same triangles, turned over. */
function sameTriangles(a: Patch, b: Patch, fragments: readonly Fragment[], places: readonly Int32Array[]): boolean {
  if (a.triangles.length !== b.triangles.length) return false
  const corners = ({ fragment }: Patch, t: number) => [0, 1, 2].map((k) => places[fragment][fragments[fragment].solid.indices[3 * t + k]])
  const key = ([i, j, k]: number[]) => (i < j && i < k ? `${i} ${j} ${k}` : j < k ? `${j} ${k} ${i}` : `${k} ${i} ${j}`)
  const own = new Set(a.triangles.map((t) => key(corners(a, t).reverse())))
  return b.triangles.every((t) => own.has(key(corners(b, t))))
}

const turned = (side: number): number => (side % SHIFT) * SHIFT + Math.floor(side / SHIFT)

/** A piece's triangles of one wall, by what hangs together. */
function patchesOf(indices: Uint32Array, place: Int32Array, list: readonly number[], fragment: number): Patch[] {
  const at = new PairTable(3 * list.length)
  const corner = (t: number, k: number) => place[indices[3 * t + (k % 3)]]
  for (const t of list) for (let k = 0; k < 3; k++) at.set(corner(t, k), corner(t, k + 1), t)
  const seen = new Set<number>()
  const out: Patch[] = []
  for (const start of list) {
    if (seen.has(start)) continue
    seen.add(start)
    const triangles = [start]
    const border = new Set<number>()
    for (let i = 0; i < triangles.length; i++)
      for (let k = 0; k < 3; k++) {
        const [from, to] = [corner(triangles[i], k), corner(triangles[i], k + 1)]
        const mate = at.get(to, from)
        if (mate < 0) border.add(from * SHIFT + to)
        else if (!seen.has(mate)) {
          seen.add(mate)
          triangles.push(mate)
        }
      }
    out.push({ fragment, triangles, border })
  }
  return out
}

/** A piece with some of its triangles in place of others: those of its neighbours, turned over. */
function takenOver(
  own: Fragment,
  list: readonly { readonly gone: readonly number[]; readonly from: Patch; readonly wall: number }[],
  fragments: readonly Fragment[],
  places: readonly Int32Array[],
  number: number,
): Fragment {
  const { solid, wall } = own
  const gone = new Set(list.flatMap(({ gone: triangles }) => triangles))
  const kept = upTo(triangleCount(solid)).filter((t) => !gone.has(t))
  const vertexAt = new Map<number, number>()
  places[number].forEach((place, v) => {
    if (place >= 0) vertexAt.set(place, v)
  })
  const more: number[] = []
  const positions: number[] = []
  const surface: number[] = []
  const walls: number[] = []
  /** where the attributes of each new corner and vertex are: of which piece, and at which of its own */
  const from: { readonly fragment: number; readonly place: number }[] = []
  const newVertices: { readonly fragment: number; readonly place: number }[] = []
  let vertices = solid.positions.length / 3
  for (const { gone: before, from: patch, wall: w } of list) {
    const other = fragments[patch.fragment].solid
    const row = solid.surface[before[0]]
    for (const t of patch.triangles) {
      for (const k of [0, 2, 1]) {
        const v = other.indices[3 * t + k]
        const place = places[patch.fragment][v]
        let mine = vertexAt.get(place)
        if (mine === undefined) {
          mine = vertices++
          vertexAt.set(place, mine)
          newVertices.push({ fragment: patch.fragment, place: v })
          positions.push(other.positions[3 * v], other.positions[3 * v + 1], other.positions[3 * v + 2])
        }
        more.push(mine)
        from.push({ fragment: patch.fragment, place: 3 * t + k })
      }
      surface.push(row)
      walls.push(w)
    }
  }
  const keptCorners = Uint32Array.from({ length: 3 * kept.length }, (_, i) => 3 * kept[Math.floor(i / 3)] + (i % 3))
  const whole: Solid = {
    ...solid,
    positions: joined(solid.positions, positions),
    indices: Uint32Array.from([...Array.from(keptCorners, (corner) => solid.indices[corner]), ...more]),
    surface: Uint32Array.from([...Array.from(kept, (t) => solid.surface[t]), ...surface]),
    attributes: mapAttributes(solid.attributes, (name, array, { at, size, turns }) => {
      const mine = at === 'vertex' ? array : pickPlaces(array, size, keptCorners)
      const added = at === 'vertex' ? newVertices : from
      const all = new Float32Array(mine.length + size * added.length)
      all.set(mine)
      added.forEach(({ fragment, place }, i) => {
        const source = fragments[fragment].solid.attributes[name]
        for (let k = 0; k < size; k++) all[mine.length + size * i + k] = (turns ? -1 : 1) * (source?.[size * place + k] ?? 0)
      })
      return all
    }),
  }
  return { ...own, solid: whole, wall: Int32Array.from([...Array.from(kept, (t) => wall[t]), ...walls]) }
}

function joined(a: Float64Array, b: readonly number[]): Float64Array {
  const out = new Float64Array(a.length + b.length)
  out.set(a)
  out.set(b, a.length)
  return out
}
