import type { Triangles } from '../solid/from-triangles'
import { duplicates } from './duplicates'
import { faceOneWay } from './facing'
import { closeHoles } from './holes'
import { joinSeams } from './seams'
import { weld } from './weld'

export const DAMAGES = ['duplicate', 'gap', 'seam', 'turned', 'hole'] as const
export type Damage = (typeof DAMAGES)[number]

/** One kind of damage: how often, and where the first of it are, mm. */
export interface Found {
  readonly damage: Damage
  readonly count: number
  readonly places: readonly (readonly [number, number, number])[]
}

/** What was found and mended. */
export interface Repaired {
  readonly positions: Float64Array
  readonly indices: Uint32Array
  /** for each triangle the one given that it was, or was cut from, or lies next to */
  readonly source: Uint32Array
  readonly found: readonly Found[]
  /** triangles without three different corners: they are left out without more ado */
  readonly degenerate: number
  /** triangles that were there more than once, or with their backs to each other */
  readonly duplicate: number
  /** points of open sides that were drawn together over a gap */
  readonly gaps: number
  /** points in the middle of other triangles' sides that those were split at */
  readonly seams: number
  /** triangles that faced another way than their neighbours, or a whole shell that was inside out */
  readonly turned: number
  /** holes that were closed, and with how many triangles */
  readonly holes: number
  readonly closing: number
}

const MOST_PLACES = 50

/** Open sides are joined over gaps of this share of the model's size; such come of rounding when files are written. */
const REACH = 1e-5

/**
 * Mends what can be mended exactly in any triangles: vertices at one place of the lattice are one; triangles of no area by their corners
 * and repeated ones go; open sides that lie along each other are joined, point by point; neighbours are turned to face one way, and shells
 * outwards or, where they lie in another one, inwards; simple holes are closed, flat ones in their plane and bent ones by the least area.
 * The result may still be unsound: the caller checks. Coordinates must be finite.
 */
export function repairTriangles({ positions: given, indices }: Triangles, lattice: number): Repaired {
  const { places: positions, of } = weld(given, lattice)
  const kept = new Uint32Array(indices.length)
  const from = new Uint32Array(indices.length / 3)
  let count = 0
  for (let t = 0; 3 * t + 2 < indices.length; t++) {
    const [a, b, c] = [of[indices[3 * t]], of[indices[3 * t + 1]], of[indices[3 * t + 2]]]
    if (a === b || b === c || a === c) continue
    kept[3 * count] = a
    kept[3 * count + 1] = b
    kept[3 * count + 2] = c
    from[count++] = t
  }
  let ids: Uint32Array = kept.slice(0, 3 * count)
  let source: Uint32Array = from.slice(0, count)
  const degenerate = Math.floor(indices.length / 3) - count
  const at = (v: number): [number, number, number] => [positions[3 * v], positions[3 * v + 1], positions[3 * v + 2]]
  const middle = (t: number) =>
    [0, 1, 2].map((k) => (positions[3 * ids[3 * t] + k] + positions[3 * ids[3 * t + 1] + k] + positions[3 * ids[3 * t + 2] + k]) / 3) as [
      number,
      number,
      number,
    ]
  const found: Found[] = []
  const tell = (damage: Damage, list: ArrayLike<number>, where: (one: number) => [number, number, number]) => {
    if (list.length > 0)
      found.push({ damage, count: list.length, places: Array.from({ length: Math.min(MOST_PLACES, list.length) }, (_, i) => where(list[i])) })
  }

  const twice = duplicates(ids)
  tell('duplicate', twice, middle)
  if (twice.length > 0) {
    const gone = new Uint8Array(count)
    for (const t of twice) gone[t] = 1
    ids = ids.filter((_, i) => !gone[Math.floor(i / 3)])
    source = source.filter((_, t) => !gone[t])
  }

  const seams = joinSeams(positions, ids, Math.max(2 * lattice, REACH * sizeOf(positions)))
  tell('gap', seams.joined, at)
  tell('seam', seams.splits, at)
  ids = seams.indices === ids ? ids.slice() : seams.indices
  source = Uint32Array.from(seams.source, (t) => source[t])

  const turns = faceOneWay(positions, ids)
  const closed = closeHoles(positions, ids)
  const all = new Uint32Array(ids.length + closed.added.length)
  all.set(ids)
  all.set(closed.added, ids.length)
  // which shells are hollows of others is known for sure only where nothing is open
  const turned = closed.added.length > 0 ? differing(turns, faceOneWay(positions, all), ids.length / 3) : turns
  tell('turned', turned, middle)
  tell(
    'hole',
    closed.holes.map((hole) => hole.at),
    at,
  )
  const sources = new Uint32Array(all.length / 3)
  sources.set(source)
  closed.source.forEach((t, i) => {
    sources[source.length + i] = source[t]
  })
  return {
    positions,
    indices: all,
    source: sources,
    found,
    degenerate,
    duplicate: twice.length,
    gaps: seams.joined.length,
    seams: seams.splits.length,
    turned: turned.length,
    holes: closed.holes.length,
    closing: closed.added.length / 3,
  }
}

/** What is in one of two lists and not in the other, of the numbers below `count`. */
function differing(one: Uint32Array, other: Uint32Array, count: number): Uint32Array {
  const [a, b] = [new Set(one), new Set(other)]
  return Uint32Array.from([...one.filter((t) => !b.has(t)), ...other.filter((t) => t < count && !a.has(t))]).sort()
}

function sizeOf(p: Float64Array): number {
  let [low, high] = [Infinity, -Infinity]
  for (let i = 0; i < p.length; i++) {
    if (p[i] < low) low = p[i]
    if (p[i] > high) high = p[i]
  }
  return p.length > 0 ? high - low : 0
}
