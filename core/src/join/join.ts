import type { Memo } from '../cache/memo'
import { SoundTriangles } from '../check/sound-triangles'
import { latticeFor } from '../outline/lattice'
import { ATTRIBUTES, type AttributeName } from '../solid/attributes'
import { INSIDE, labelTable, NONE, rowCount, rowOf } from '../solid/labels'
import { type Matrix, UNMOVED } from '../solid/operations'
import { type Solid, solidBounds, triangleCount, withParts } from '../solid/solid'
import { volumeOf } from '../solid/volume'
import { type Manifold, withKernelSolids } from './bridge'
import type { Box, Mended } from './mend'
import { type Near, nearOf, rejoined, withoutRest } from './near'
import { joinOnFace } from './on-face'
import { placedSolid, UNTOUCHED } from './placed'

export const JOINS = ['fuse', 'carve', 'overlap'] as const
export type JoinHow = (typeof JOINS)[number]

/** A solid that takes part in a join, and where it stands in the body's own coordinates. */
export interface Partner {
  readonly solid: Solid
  readonly matrix: Matrix
  /** its labels are those of what it lays bare already (see asInside) */
  readonly inside?: boolean
}

export type Joined =
  | {
      readonly ok: true
      readonly solid: Solid
      /** mm³ of the body before, and of what came out */
      readonly before: number
      readonly after: number
      /** partners that have nothing in common with the body, by their number */
      readonly apart: readonly number[]
      /** what had to be mended after rounding, and how often the partners had to be moved by a few micrometres */
      readonly mended: Pick<Mended, 'collapsed' | 'flipped' | 'nudged'>
      readonly moves: number
    }
  | { readonly ok: false; readonly why: 'empty' | 'unsound'; readonly places: readonly (readonly [number, number, number])[] }

/** The bands of what a cut lays bare. */
export const FLOOR = 'floor'
export const WALL = 'wall'

/** How often the partners are moved by a few steps of the lattice when a result cannot be mended, and how far at most, mm. */
const MOVES = 5
const FARTHEST = 2 ** -8
/** Two results whose volumes differ by less than this share are the same. */
const SAME_VOLUME = 1e-9
/** What adding up takes of a volume. */
const ROUNDED = 1e-12

/**
 * Unites solids with a body, cuts them out of it, or keeps what they have in common, one after another. The result lies on the lattice and
 * is certified: nothing crosses, no two vertices lie at one place. Where rounding has spoilt it, the few triangles concerned are mended
 * (mend.ts); if that does not succeed, the partners are moved by up to 4 µm and it is done again, at most five times.
 *
 * Every triangle keeps its labels and attributes; what partners lay bare in the body is of the group *inside*, in the bands *floor* and
 * *wall*, by how it lies to the partner's own front. All solids must be sound. Needs the kernel loaded. With a memo, letters on a flat face are each joined once (on-face.ts).
 */
export function joinSolid(body: Solid, partners: readonly Partner[], how: JoinHow, memo?: Memo): Joined {
  const lattice = Math.max(body.lattice, ...partners.map(({ solid }) => solid.lattice), latticeFor(reachOf(body, partners)))
  const own = placedSolid(body, UNMOVED, lattice)
  if (!own.mended.sound) return { ok: false, why: 'unsound', places: own.mended.places }
  const others: Solid[] = []
  for (const { solid, matrix, inside } of partners) {
    const placed = placedSolid(solid, matrix, lattice)
    if (!placed.mended.sound) return { ok: false, why: 'unsound', places: placed.mended.places }
    others.push(how === 'fuse' || inside ? placed.solid : asInside(placed.solid, matrix))
  }
  const onFace =
    memo &&
    how !== 'overlap' &&
    joinOnFace(own.solid, others, how, BESIDE, memo, {
      plate: (plate, partner) => joinPlate(plate, partner, how, lattice),
      body: (body, some) => {
        const tried = joinOnce(body, some, how, lattice)
        return tried?.solid && tried.mended.sound ? { solid: withParts(tried.solid), apart: tried.apart } : undefined
      },
    })
  if (onFace) return { ok: true, mended: UNTOUCHED, moves: 0, before: volumeOf(own.solid), ...onFace }
  let places: readonly (readonly [number, number, number])[] = []
  for (let moves = 0; moves <= MOVES; moves++) {
    const tried = joinOnce(own.solid, moves === 0 ? others : others.map((solid, i) => shifted(solid, moves, i, lattice)), how, lattice)
    if (!tried?.solid) return { ok: false, why: 'empty', places: [] }
    const { solid, mended, ...rest } = tried
    if (mended.sound) return { ok: true, solid: withParts(solid), mended, moves, ...rest }
    places = mended.places
  }
  return { ok: false, why: 'unsound', places }
}

function joinOnce(body: Solid, others: readonly Solid[], how: JoinHow, lattice: number) {
  const attributes = attributesOf([body, ...others])
  const bounds = others.map(({ positions }) => solidBounds(positions))
  const about = emptyBox()
  for (const box of bounds) widen(about, box)
  const near = nearOf(body, about.map((v, k) => v + (k < 3 ? -2 : 2) * BESIDE) as Corners, attributes)
  return (near && joinWith(near, body, others, bounds, how, lattice)) ?? joinWith(undefined, body, others, bounds, how, lattice)
}

interface JoinedOnce {
  /** absent where nothing is left; its parts are not numbered yet */
  readonly solid?: Solid
  readonly mended: Mended
  readonly before: number
  readonly after: number
  readonly apart: readonly number[]
}

/** Joins all of the body, or the part of it that is near; undefined where that part does not fit in again. */
function joinWith(
  near: Near | undefined,
  body: Solid,
  others: readonly Solid[],
  bounds: readonly Corners[],
  how: JoinHow,
  lattice: number,
): JoinedOnce | undefined {
  const part = near?.solid ?? body
  return withKernelSolids(attributesOf([body, ...others]), (kernel) => {
    let result: Manifold = kernel.put(part)
    const before = near ? volumeOf(body) : result.volume()
    /** what has been put in counts more, or less, than the body by this */
    const beyond = result.volume() - before
    let volume = before
    const box = emptyBox()
    const own = solidBounds(body.positions)
    /** the body, and what has been fused with it */
    const whole: Corners = [...own]
    const apart: number[] = []
    others.forEach((other, i) => {
      const theirs = kernel.put(other)
      const met = meeting(whole, bounds[i])
      if (how === 'fuse') widen(whole, bounds[i])
      if (met) widen(box, met)
      const next = kernel.own(how === 'fuse' ? result.add(theirs) : how === 'carve' ? result.subtract(theirs) : result.intersect(theirs))
      const after = how === 'overlap' ? next.volume() : next.volume() - beyond
      const gained = how === 'fuse' ? volume + theirs.volume() - after : how === 'carve' ? volume - after : after
      if (!met || Math.abs(gained) <= SAME_VOLUME * volume + ROUNDED * Math.abs(beyond)) apart.push(i)
      // those that are cut out or fused one after another may meet each other as well
      for (const earlier of bounds.slice(0, i)) {
        const both = meeting(earlier, bounds[i])
        if (both) widen(box, both)
      }
      ;[result, volume] = [next, after]
    })
    if (result.isEmpty()) return { mended: UNTOUCHED, before, after: 0, apart }
    const { solid, mended } = kernel.takeUnnumbered(result, lattice, box, new SoundTriangles([part, ...others]))
    const all = !near ? solid : how === 'overlap' ? withoutRest(near, solid) : rejoined(body, near, solid)
    return all && { solid: all, mended, before, after: volume, apart }
  })
}

/** A partner joined with a plate, its parts not numbered, so that rows from the plate's last one on are the partner's; undefined where that is not sound as it is. */
function joinPlate(plate: Solid, partner: Solid, how: JoinHow, lattice: number) {
  const tried = joinWith(undefined, plate, [partner], [solidBounds(partner.positions)], how, lattice)
  return tried?.solid && tried.mended.sound ? { solid: tried.solid, partnersRow: rowCount(plate.labels) } : undefined
}

/** Attributes that one of them has: what none has is made from the result's own shape. */
export function attributesOf(solids: readonly Solid[]): AttributeName[] {
  return (Object.keys(ATTRIBUTES) as AttributeName[]).filter((name) => solids.some(({ attributes }) => attributes[name]))
}

function reachOf(body: Solid, partners: readonly Partner[]): number {
  let most = Math.max(...solidBounds(body.positions).map(Math.abs))
  for (const { solid, matrix: m } of partners) {
    const far = Math.max(...solidBounds(solid.positions).map(Math.abs))
    for (let k = 0; k < 3; k++) most = Math.max(most, (Math.abs(m[4 * k]) + Math.abs(m[4 * k + 1]) + Math.abs(m[4 * k + 2])) * far + Math.abs(m[4 * k + 3]))
  }
  return Number.isFinite(most) ? most : 0
}

/** A cutter's surfaces as they look from inside what it cuts: floor where they face along its front's direction, else wall, undressed. */
export function asInside(solid: Solid, m: Matrix): Solid {
  const rows = rowCount(solid.labels)
  const bands = [...solid.bands, FLOOR, WALL]
  const labels = labelTable(
    Array.from({ length: 2 * rows }, (_, i) => ({
      ...rowOf(solid.labels, i % rows),
      group: INSIDE,
      look: NONE,
      band: solid.bands.length + (i < rows ? 0 : 1),
    })),
  )
  const z = [m[2], m[6], m[10]]
  const { positions: p, indices } = solid
  const surface = solid.surface.slice()
  for (let t = 0; t < triangleCount(solid); t++) {
    const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]]
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]]
    const [nx, ny, nz] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx]
    const along = Math.abs(nx * z[0] + ny * z[1] + nz * z[2])
    if (along < Math.SQRT1_2 * Math.hypot(nx, ny, nz) * Math.hypot(z[0], z[1], z[2])) surface[t] += rows
  }
  return { ...solid, labels, surface, bands }
}

/** A partner moved by a few steps of the lattice, another way each time. */
function shifted(solid: Solid, move: number, number: number, lattice: number): Solid {
  const most = Math.max(1, Math.floor(FARTHEST / lattice))
  // low-discrepancy steps: thirds, fifths and sevenths of the way
  const step = (k: number) => ((((move * [7, 11, 13][k] + number * 5) % (2 * most + 1)) + 2 * most + 1) % (2 * most + 1)) - most
  const by = [step(0) * lattice, step(1) * lattice, step(2) * lattice]
  return { ...solid, positions: solid.positions.map((v, i) => v + by[i % 3]) }
}

type Corners = [number, number, number, number, number, number]
const emptyBox = (): Corners => [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]

/** How far beyond the common box something may have changed, mm. */
const BESIDE = 2 ** -6

function meeting(a: Box, b: Box): Box | undefined {
  const box = [0, 1, 2, 3, 4, 5].map((k) => (k < 3 ? Math.max(a[k], b[k]) - BESIDE : Math.min(a[k], b[k]) + BESIDE)) as Corners
  return [0, 1, 2].every((k) => box[k] <= box[k + 3]) ? box : undefined
}

function widen(box: Corners, by: Box): void {
  for (let k = 0; k < 6; k++) box[k] = k < 3 ? Math.min(box[k], by[k]) : Math.max(box[k], by[k])
}
