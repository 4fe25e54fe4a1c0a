import type { Point } from '../check/rays'
import { checkMesh } from '../check/check'
import { type Edges, edgesOf, oppositesOf } from '../check/edges'
import { crossingPairs } from '../check/crossings'
import { hashBits, hashJson } from '../cache/hash'
import type { Memo } from '../cache/memo'
import { mendedSolid } from '../join/placed'
import { type Flips, stoutFlips, turnedBack, withFlips } from '../solid/flip'
import { LABELS } from '../solid/labels'
import { refineSolid, type TooLong } from '../solid/refine'
import { type Solid, vertexCount } from '../solid/solid'
import { longer } from '../solid/vertex-table'
import { boundsOfAll, type Cells, cellsOf, type MapBounds, straightBelow } from './bounds'
import { Composed, type Stage } from './composed'
import { comesRound } from './deformation'
import { Flats, flatsAnew, sideKey } from './flats-anew'
import { joinedEnds } from './joined-ends'
import { type Margins, marginsOf, type Straying } from './margins'
import { determinantAt, movedSurface } from './moved-surface'
import { DIFFERENCE, type SpaceMap } from './space-map'
import { type Moved, staysApart, strayingOf } from './stays-apart'

/** What a solid was before it was deformed, and by what: a further deformation begins there, so that all of them are one map. */
export interface Deformed {
  readonly from: Solid
  readonly stages: readonly Stage[]
  /** of the solid that came out; another one has not been through this */
  readonly key: string
}

export type DeformResult =
  | { readonly ok: true; readonly solid: Solid /** nearer to the map than asked for, where that was needed */; readonly finer: number }
  /** the map turns the surface inside out there */
  | { readonly ok: false; readonly why: 'folds'; readonly places: readonly Point[] }
  /** parts of the piece come to lie in each other */
  | { readonly ok: false; readonly why: 'crosses'; readonly places: readonly Point[] }
  | { readonly ok: false; readonly why: 'too-much'; readonly places: readonly Point[] }

export interface DeformOptions {
  /** how far triangles may be off the exact map, mm */
  readonly tolerance: number
  readonly most?: number
  readonly breathe?: () => Promise<void>
  /** keeps what is known of a piece at rest: for other values, and for what deforms it further */
  readonly memo?: Memo
}

/** What is known of a piece before it is deformed, whatever deforms it. */
interface AtRest {
  /** its flat places in stout triangles, and the edges and flat places of those */
  readonly flips: Flips
  readonly edges: Edges
  readonly flats: Flats
  /** its longest side, squared, mm² */
  readonly longest: number
}

/** The same for whatever has that shape. */
const shapeKey = ({ positions, indices, surface }: Solid): string => [positions, indices, surface].map(hashBits).join('')

function atRest(base: Solid, key: string, memo?: Memo): AtRest {
  const make = (): AtRest => {
    const flips = stoutFlips(base)
    const { indices } = flips
    let longest = 0
    for (let i = 0; i < indices.length; i++) longest = Math.max(longest, apart(base.positions, 3 * indices[i], 3 * indices[i % 3 === 2 ? i - 2 : i + 1]))
    return { flips, edges: edgesOf(indices, vertexCount(base)), flats: new Flats({ ...base, indices }), longest }
  }
  return memo ? memo.get(`at-rest:${key}`, make) : make()
}

const numbers = new WeakMap<Solid, number>()
let numbered = 0

/** The very same solid each time for the same piece, so that normals made from its shape are kept with it. */
function stoutOf(base: Solid, flips: Flips, memo?: Memo): Solid {
  if (!memo) return withFlips(base, flips)
  let number = numbers.get(base)
  if (number === undefined) numbers.set(base, (number = numbered++))
  return memo.get(`stout:${number}`, () => withFlips(base, flips))
}

const MOST_TRIANGLES = 1_500_000
const MOST_PLACES = 12
/**
 * What is tried until nothing crosses: how many times nearer to the map, whether flat places are cut into triangles anew, and how far, of its length, a side
 * within one may bow there. Few triangles first; the slivers of the rest then have company.
 */
const ATTEMPTS = [
  { finer: 1, anew: true, bow: 0.008 },
  { finer: 1, anew: false, bow: 0 },
  { finer: 4, anew: false, bow: 0 },
] as const
/**
 * A solid through deformations: refined where, and only where, they curve it by more than the tolerance (sides are tried at a quarter, half and
 * three quarters), mapped, its normals turned by the map's Jacobian, rounded to the lattice, and certified. Shared/deform-notes.md has what was measured.
 */
export async function deformSolid(base: Solid, stages: readonly Stage[], options: DeformOptions): Promise<DeformResult> {
  const { most = MOST_TRIANGLES, breathe = async () => {}, memo } = options
  const shape = memo ? shapeKey(base) : ''
  const known = atRest(base, shape, memo)
  const { edges } = known
  const stout = stoutOf(base, known.flips, memo)
  const rest = atVertices(stout, stages)
  const cells = cellsOf(stages, vertexCount(stout))
  const bounds = boundsOfAll(stages, stout.positions, cells)
  const folds = foldsAt(rest)
  if (folds.length > 0) return { ok: false, why: 'folds', places: folds }
  const round = stages.some(({ by }) => by.some(comesRound))
  let places: readonly Point[] = []
  const unturned: { readonly solid: Solid; readonly finer: number }[] = []
  let nearly: { readonly solid: Solid; readonly crossings: number; readonly finer: number }[] = []
  for (const { finer, anew, bow } of ATTEMPTS) {
    await breathe()
    let fine = refined(stout, rest, known, stages, bounds, { tolerance: options.tolerance / finer, anew, bow, most })
    for (let halving = 0; fine; halving++) {
      await breathe()
      const plain = mappedSolid(fine)
      const alone = turnedBack(plain)
      // what comes round to where it began grows together
      const mapped = round ? joinedEnds(alone) : alone
      if (!('kind' in mapped)) return { ok: false, why: 'crosses', places: mapped.slice(0, MOST_PLACES) }
      // triangle by triangle as it is at rest: how far they keep from each other there may tell
      const key = memo && mapped.indices === stout.indices ? `margins:${shape}` : undefined
      const moved = key && bounds ? movedFrom(stout, mapped, rest, bounds, cells) : undefined
      const margins = memo && key && moved && marginsAtRest(stout, strayingOf(moved), key, memo)
      if (margins && staysApart(margins, moved)) return { ok: true, solid: mapped, finer }
      const check = checkMesh(mapped, mapped.indices === stout.indices ? { opposite: oppositesOf(stout.indices, edges) } : {})
      if (check.sound) {
        if (memo && key && !memo.peek(key) && check.vertices === vertexCount(stout)) memo.put(key, {} satisfies Kept)
        return { ok: true, solid: mapped, finer }
      }
      places = check.findings.flatMap((finding) => finding.places).slice(0, MOST_PLACES)
      // where normals are other than the surface at rest already, as on bristles, there is nothing to be turned back
      const turned = alone !== plain && !round
      if (check.crossings > MOST_MENDED) {
        if (turned && checkMesh(plain).sound) return { ok: true, solid: plain, finer }
        break
      }
      if (turned && halving === 0) unturned.push({ solid: plain, finer })
      if (mapped !== alone) {
        const { solid, mended } = mendedSolid(mapped)
        if (mended.sound && checkMesh(solid).sound) return { ok: true, solid, finer }
        break
      }
      // what crosses before it is rounded is too coarse there; what does not is a matter of rounding, and finer triangles make that worse
      const coarse = halving < MOST_HALVINGS ? crossingPairs(fine.ends, mapped.indices, MOST_MENDED) : []
      if (coarse.length > 0) {
        // ends that come round to each other and do not fit lie in each other indeed
        if (!round) nearly = [...nearly, { solid: mapped, crossings: check.crossings, finer }].sort((a, b) => a.crossings - b.crossings).slice(0, MOST_TRIED)
        fine = halved(fine, mapped.indices, coarse.flat(), most)
        continue
      }
      const { solid, mended } = mendedSolid(mapped)
      if (mended.sound && checkMesh(solid).sound) return { ok: true, solid, finer }
      break
    }
    if (!fine) return { ok: false, why: 'too-much', places: [] }
  }
  for (const { solid, finer } of unturned) {
    await breathe()
    if (checkMesh(solid).sound) return { ok: true, solid, finer }
  }
  // where surfaces meet at hardly any angle, as copies that were united do, no division is fine enough, and what crosses does so by a hair
  for (const { solid: crossing, finer } of nearly) {
    await breathe()
    const { solid, mended } = mendedSolid(crossing)
    if (mended.sound && checkMesh(solid).sound) return { ok: true, solid, finer }
  }
  return { ok: false, why: 'crosses', places }
}

/** What a memo has of how far a piece keeps from itself at rest, and how far a map may stray for it: nothing until it was asked for once more, for one deformation it is not worth it; null where it tells nothing. */
interface Kept {
  readonly within?: Straying
  readonly margins?: Margins | null
}

/** Margins are measured for maps that stray so many times further than the one that asks, and then for all that stray less. */
const FURTHER = 2
const FURTHER_AT_LEAST = 1.1

/** Margins of a piece that has been found sound as the same triangles before. */
function marginsAtRest(stout: Solid, { bend, rounding }: Straying, key: string, memo: Memo): Margins | null | undefined {
  const kept = memo.peek<Kept>(key)
  if (!kept || !(bend >= 0 && bend < Infinity)) return undefined
  if (kept.within && kept.margins && kept.within.bend >= FURTHER_AT_LEAST * bend && kept.within.rounding >= FURTHER_AT_LEAST * rounding) return kept.margins
  // what told nothing tells nothing of stronger bends either, but may of far weaker ones
  if (kept.within && kept.margins === null && kept.within.bend <= FURTHER * FURTHER * bend) return null
  const within = { bend: FURTHER * bend, rounding: FURTHER * rounding }
  const margins = marginsOf(stout, within) ?? null
  memo.put(key, { within, margins } satisfies Kept)
  return margins
}

function movedFrom(stout: Solid, { positions, lattice }: Solid, { ends, jacobian }: AtVertices, { bend }: MapBounds, { of }: Cells): Moved {
  return { indices: stout.indices, rest: stout.positions, ends, positions, rounding: lattice, jacobian, unsure: ROUNDED, bend, cells: of }
}

/** Derivatives are off by no more than this, for sums are rounded. */
const ROUNDED = 1e-6

/** So many of what has crossed least are kept, to be tried to be mended in the end. */
const MOST_TRIED = 3

/** More crossings than this are not a matter of rounding or of chords. */
const MOST_MENDED = 60
const MOST_HALVINGS = 4

interface Nearness {
  readonly tolerance: number
  readonly anew: boolean
  readonly bow: number
  readonly most: number
}

interface Fine {
  readonly solid: Solid
  readonly map: Composed
  /** where its vertices go */
  readonly ends: Float64Array
  /** what is known of the first of them, those before it was refined */
  readonly rest: AtVertices
}

/** Where the vertices of a solid go, and the map's derivatives there: rows of the Jacobian (what x, y and z become by each of x, y and z), nine numbers a vertex. */
interface AtVertices {
  readonly ends: Float64Array
  readonly jacobian: Float64Array
  readonly maps: readonly (readonly SpaceMap[])[]
}

/** The square of how far two points are apart, mm². */
const apart = (p: Float64Array, a: number, b: number) => (p[a] - p[b]) ** 2 + (p[a + 1] - p[b + 1]) ** 2 + (p[a + 2] - p[b + 2]) ** 2

function refined(
  stout: Solid,
  rest: AtVertices,
  known: AtRest,
  stages: readonly Stage[],
  bounds: MapBounds | undefined,
  { tolerance, anew, bow, most }: Nearness,
): Fine | undefined {
  const map = new Composed(stages, rest.maps)
  // a hair less: sums are rounded
  const straight = straightBelow(bounds, tolerance * (1 - 1e-6)) ** 2
  if (known.longest <= straight) return { solid: stout, map, ends: rest.ends, rest }
  let ends = rest.ends.slice()
  let has = new Uint8Array(vertexCount(stout)).fill(1)
  const end = (p: Float64Array, v: number) => {
    if (v >= has.length) {
      has = longer(has, 2 * v + 16)
      ends = longer(ends, 3 * has.length)
    }
    if (has[v]) return
    has[v] = 1
    for (let k = 0; k < 3; k++) ends[3 * v + k] = p[3 * v + k]
    map.between(ends, 3 * v, v, v, 0)
  }
  const at = new Float64Array(3)
  const off = (p: Float64Array, a: number, b: number, f: number): number => {
    for (let k = 0; k < 3; k++) at[k] = p[a + k] + f * (p[b + k] - p[a + k])
    map.between(at, 0, a / 3, b / 3, f)
    let sum = 0
    for (let k = 0; k < 3; k++) sum += (at[k] - ends[a + k] - f * (ends[b + k] - ends[a + k])) ** 2
    return sum
  }
  const most2 = tolerance * tolerance
  let flats = new Flats(known.flats)
  const aside = new Float64Array(3)
  /** as `off`, but what goes along the mapped surface itself does not count: within a flat place of that axis no border moves with it */
  const offSurface = (p: Float64Array, a: number, b: number, f: number, axis: number, t: number): number => {
    const [i, j] = [(axis + 1) % 3, (axis + 2) % 3]
    const full = off(p, a, b, f)
    if (full <= most2) return full
    const [ex, ey, ez] = [0, 1, 2].map((k) => at[k] - ends[a + k] - f * (ends[b + k] - ends[a + k]))
    const [dx, dy, dz] = [0, 1, 2].map((k) => ends[b + k] - ends[a + k])
    // nor may it bow so much within its surface that it could leave it across a border
    if (full > bow * bow * (dx * dx + dy * dy + dz * dz)) return full
    // a step across the side, within the flat place
    for (let k = 0; k < 3; k++) aside[k] = p[a + k] + f * (p[b + k] - p[a + k])
    const [u, v] = [p[b + i] - p[a + i], p[b + j] - p[a + j]]
    const size = DIFFERENCE / Math.sqrt(u * u + v * v)
    aside[i] -= v * size
    aside[j] += u * size
    aside[axis] += size * (flats.rise[2 * t + 1] * u - flats.rise[2 * t] * v)
    map.between(aside, 0, a / 3, b / 3, f)
    const [sx, sy, sz] = [aside[0] - at[0], aside[1] - at[1], aside[2] - at[2]]
    const [nx, ny, nz] = [dy * sz - dz * sy, dz * sx - dx * sz, dx * sy - dy * sx]
    const length2 = nx * nx + ny * ny + nz * nz
    return length2 > 0 ? (nx * ex + ny * ey + nz * ez) ** 2 / length2 : full
  }
  const tooLong: TooLong = (p, a, b, t) => {
    if (apart(p, a, b) <= straight) return false
    end(p, a / 3)
    end(p, b / 3)
    const axis = flats.axis[t]
    if (axis < 0 || flats.borders(a / 3, b / 3)) return off(p, a, b, 0.5) > most2 || off(p, a, b, 0.25) > most2 || off(p, a, b, 0.75) > most2
    return offSurface(p, a, b, 0.5, axis, t) > most2 || offSurface(p, a, b, 0.25, axis, t) > most2 || offSurface(p, a, b, 0.75, axis, t) > most2
  }
  const made = (v: number, a: number, b: number) => {
    map.addMiddle(v, a, b)
    flats.part(v, a, b)
  }
  const cut = anew ? flatsAnew(stout, flats, tooLong, made, most, known.edges) : { solid: stout, flats }
  if (!cut) return undefined
  flats = cut.flats
  const solid = refineSolid(cut.solid, tooLong, { most, made, ...(cut.solid === stout ? { edges: known.edges } : {}) })
  if (!solid) return undefined
  for (let v = 0; v < vertexCount(solid); v++) end(solid.positions, v)
  return { solid, map, ends: ends.slice(0, solid.positions.length), rest }
}

/** As before, with the sides of the given triangles parted; their corners are the same vertices, but they may have been flipped since. */
function halved({ solid, map, ends, rest }: Fine, indices: Uint32Array, triangles: readonly number[], most: number): Fine | undefined {
  const sides = new Set<number>()
  for (const t of triangles) for (let h = 3 * t; h < 3 * t + 3; h++) sides.add(sideKey(indices[h], indices[h % 3 === 2 ? h - 2 : h + 1]))
  const finer = refineSolid(solid, (_, a, b) => sides.has(sideKey(a / 3, b / 3)), { most, made: (v, a, b) => map.addMiddle(v, a, b) })
  if (!finer) return undefined
  const all = finer.positions.slice()
  all.set(ends)
  for (let v = vertexCount(solid); v < vertexCount(finer); v++) map.between(all, 3 * v, v, v, 0)
  return { solid: finer, map, ends: all, rest }
}

/** The solid with its vertices mapped and its normals turned. */
const mappedSolid = (fine: Fine): Solid => movedSurface(fine.solid, fine.ends, jacobians(fine))

/** Derivatives at all vertices: those of the first ones are known, but with weights, whose gradients depend on the triangles, they are found anew. */
function jacobians({ solid: { positions, indices }, map, rest: { jacobian } }: Fine): Float64Array {
  const vertices = positions.length / 3
  if (jacobian.length === 9 * vertices) return jacobian
  const first = map.isWeighted ? 0 : jacobian.length / 9
  const all = identities(vertices)
  all.set(jacobian.subarray(0, 9 * first))
  map.measureGradients(positions, indices)
  map.placeFrom(first, positions.slice(3 * first), all)
  return all
}

function identities(count: number): Float64Array {
  const all = new Float64Array(9 * count)
  for (let i = 0; i < all.length; i += 9) all[i] = all[i + 4] = all[i + 8] = 1
  return all
}

function atVertices({ positions, indices }: Solid, stages: readonly Stage[]): AtVertices {
  // its maps are made by placing
  const map = new Composed(
    stages,
    stages.map(() => []),
  )
  map.measureGradients(positions, indices)
  const [ends, jacobian] = [positions.slice(), identities(positions.length / 3)]
  map.place(ends, jacobian)
  return { ends, jacobian, maps: map.maps }
}

/** Places at which the map turns space inside out: where the Jacobian is not above nought. Looked for at vertices. */
export const foldsOf = (solid: Solid, stages: readonly Stage[]): Point[] => foldsAt(atVertices(solid, stages))

function foldsAt({ ends, jacobian }: AtVertices): Point[] {
  const folds: Point[] = []
  for (let v = 0; 3 * v < ends.length && folds.length < MOST_PLACES; v++)
    if (!(determinantAt(jacobian, 9 * v) > LEAST_VOLUME)) folds.push([ends[3 * v], ends[3 * v + 1], ends[3 * v + 2]])
  return folds
}

/** Space squeezed to less than this share has nothing left to stand on. */
const LEAST_VOLUME = 1e-3

/** What tells a solid's shape and labels apart from all others. */
export const deformedKey = ({ positions, indices, surface, labels, looks, letters, layers }: Solid): string =>
  [positions, indices, surface, ...LABELS.map((label) => labels[label])].map(hashBits).join('') + hashJson([looks, letters, layers])

/** What a solid was before deformation, if it is still the very one that came out of it. */
export const deformedFrom = (solid: Solid): Deformed | undefined =>
  solid.deformed && solid.deformed.key === deformedKey(solid) ? (solid.deformed as Deformed) : undefined
