import { checkMesh, weldByPosition } from '../check/check'
import { crossingPairs } from '../check/crossings'
import { SoundTriangles } from '../check/sound-triangles'
import { withKernelSolids } from '../join/bridge'
import { attributesOf } from '../join/join'
import { mendedSolid } from '../join/placed'
import { isClosed } from '../check/closed'
import { INSIDE, labelTable, NONE, pickRows, PLAIN_ROW, rowCount, withLabel } from '../solid/labels'
import { letterParts } from '../solid/letter-parts'
import { gather, split } from '../solid/operations'
import { type Solid, solidBounds, vertexCount, withParts } from '../solid/solid'
import { type Cells, cellsOfCourses, cellsOfSites } from './cells'
import { type Avoided, chipped } from './chip'
import { asFragment, BREAK, connectedSolids, type Fragment, oppositesIn, WALL } from './fragment'
import { type Fitted, fitTogether } from './fit'
import { mergedTo } from './merge'
import { placesInside } from './samples'
import { type Cracks, coursesOf, PLACES_EACH, sitesOf } from './sites'
import { HIGHEST, nearSolid, type Roughness, type WallMesh, wallMesh } from './walls'

export type Shattered =
  | {
      readonly ok: true
      readonly shards: readonly Solid[]
      /** pieces that were grown together again, so that there are as many as asked */
      readonly merged: number
      /** how much of the roughness that was asked could be kept, 0 to 1 */
      readonly rough: number
      /** walls of which both sides fit exactly, and of how many */
      readonly fitting: number
      readonly walls: number
    }
  | { readonly ok: false; readonly why: 'too-fine' | 'unsound' | 'torn' | 'flat'; readonly places: readonly (readonly [number, number, number])[] }

export interface Breaking {
  readonly cracks: Cracks
  /** mm between pieces */
  readonly gap: number
  readonly roughness?: Roughness
  /** the size of chips that break off along cracks, mm; 0 for none */
  readonly chips?: number
}

/** What is between the box about everything and what is broken, mm. */
const AROUND = 2
/** Places are looked at so densely at least. */
const FEWEST_PLACES = 3000
/** How often cracks are moved by a few steps of the lattice, or drawn anew, when something does not come out sound. */
const TRIES = 6
/** Where chips have broken off rough faces, so many of the walls fit exactly at least. */
const NEARLY_ALL = 0.85
/** What is rough takes long: once more elsewhere on the lattice, where it did not fit, and then it is made smoother each time. */
const ROUGH_TRIES = [1, 1, 0.7, 0.4, 0.15]

/**
 * Breaks a solid to pieces along walls that neighbours have in common. Every piece is one connected, certified solid on the solid's own lattice; break faces are of the
 * group *inside* and the band *break*. Of more pieces than asked the smallest grow together with the neighbour they share most with. Needs the kernel loaded.
 */
export async function shatterSolid(solid: Solid, breaking: Breaking, breathe: () => Promise<void> = async () => {}): Promise<Shattered> {
  const { cracks } = breaking
  const samples = placesInside(solid, Math.max(FEWEST_PLACES, PLACES_EACH * cracks.pieces), cracks.seed)
  if (samples.places.length === 0) return { ok: false, why: 'flat', places: [] }
  let failure: Extract<Shattered, { ok: false }> = { ok: false, why: 'torn', places: [] }
  let best: Extract<Shattered, { ok: true }> | undefined
  /** where chips were too much */
  const avoid: Avoided[] = []
  const tries = breaking.roughness ? ROUGH_TRIES : Array<number>(TRIES).fill(1)
  /** as rough as this it was not sound, nor would it be elsewhere */
  let unsoundAt = Infinity
  for (const [round, rough] of tries.entries()) {
    if (breaking.roughness && rough === unsoundAt) continue
    const mesh = wallsFor(
      solid,
      samples,
      breaking.roughness ? { ...breaking, roughness: { ...breaking.roughness, rough: rough * breaking.roughness.rough } } : breaking,
      round,
    )
    if (mesh === 'too-fine') return { ok: false, why: 'too-fine', places: [] }
    if (mesh === 'torn') continue
    let fragments = await fragmentsOf(solid, mesh, breathe)
    if (breaking.chips) {
      const left = chipped(solid, fragments, mesh.cells, breaking.chips, cracks.seed, avoid)
      if (!left) continue
      fragments = await fragmentsOf(left, mesh, breathe)
    }
    const made = soundTogether(fragments, mesh.cells)
    if (!made.sound) {
      failure = { ok: false, why: 'unsound', places: made.places }
      unsoundAt = rough
      avoid.push(...made.places.map((at) => ({ at, within: 2 * (1 + round) })))
      continue
    }
    const { shards, merged, checked } = mergedTo(made.fragments, cracks.pieces)
    const unsound = shards
      .filter((shard) => !checked.has(shard))
      .map(({ solid: shard }) => checkMesh(shard, { deep: false, opposite: oppositesIn(shard) }))
      .find(({ sound }) => !sound)
    if (unsound) {
      failure = { ok: false, why: 'unsound', places: unsound.findings[0].places }
      continue
    }
    const solids = shards.map(finished)
    const shattered: Shattered = { ok: true, shards: solids, merged, rough, fitting: made.fitting, walls: made.walls }
    // where chips are off what is rough, a face that fits to a hundredth of a millimetre is no fault
    const near = breaking.roughness && breaking.chips && (made.settled || made.fitting > NEARLY_ALL * made.walls)
    if (made.fitting === made.walls || near) return shattered
    if (!best || best.fitting / best.walls < made.fitting / made.walls) best = shattered
  }
  return best ?? failure
}

function wallsFor(solid: Solid, samples: ReturnType<typeof placesInside>, { cracks, gap, roughness }: Breaking, round: number): WallMesh | 'torn' | 'too-fine' {
  const own = solidBounds(solid.positions)
  const margin = AROUND + (roughness?.grain ?? 0)
  // another place on the lattice each time
  const moved = [7, 11, 13].map((step) => round * step * solid.lattice)
  const box = own.map((v, k) => (k < 3 ? v - margin : v + margin))
  // walls are fine where they can meet something, once they are shaken
  const calmAt = cracks.pattern === 'glass' ? { calmAt: [cracks.spot[0], cracks.spot[1]] as const } : {}
  const rough = roughness && { ...roughness, ...calmAt, near: nearSolid(solid, roughness.grain / 2, HIGHEST * roughness.grain) }
  const shifted = { ...cracks, spot: cracks.spot.map((v, k) => v + moved[k]) as unknown as Cracks['spot'] }
  if (cracks.pattern === 'bricks') {
    const courses = coursesOf(samples, shifted, own)
    return wallMesh(cellsOfCourses({ ...courses, x: courses.x + moved[0], y: courses.y + moved[1] }, box, gap), solid.lattice, rough)
  }
  const sites = sitesOf(samples, shifted, own)
  const at = sites.at.map((v, i) => v + moved[i % 3])
  return wallMesh(cellsOfSites({ ...sites, at }, box, gap), solid.lattice, rough)
}

/** Every cell as a solid, with a row of labels for each of its walls. */
function cellSolids(mesh: WallMesh, lattice: number): { readonly solid: (cell: number) => Solid; readonly boxes: Float64Array } {
  const { cells, positions, indices, wall, ofCell } = mesh
  const boxes = new Float64Array(6 * cells.count)
  const solid = (cell: number): Solid => {
    const list = ofCell[cell]
    const numbers = new Map<number, number>()
    const at: number[] = []
    const ids = new Uint32Array(3 * list.length)
    const surface = new Uint32Array(list.length)
    const rows = new Map<number, number>()
    list.forEach((signed, i) => {
      const t = Math.abs(signed) - 1
      const row = rows.get(wall[t]) ?? rows.size
      rows.set(wall[t], row)
      surface[i] = row
      for (let k = 0; k < 3; k++) {
        const v = indices[3 * t + (signed > 0 ? k : 2 - k)]
        let number = numbers.get(v)
        if (number === undefined) {
          number = numbers.size
          numbers.set(v, number)
          at.push(positions[3 * v], positions[3 * v + 1], positions[3 * v + 2])
        }
        ids[3 * i + k] = number
      }
    })
    const labels = labelTable([...rows.keys()].map((w) => ({ ...PLAIN_ROW, group: INSIDE, band: 0, copy: w })))
    return {
      kind: 'solid',
      positions: Float64Array.from(at),
      indices: ids,
      surface,
      labels,
      attributes: {},
      letters: [],
      layers: [],
      bands: [WALL],
      looks: [],
      lattice,
    }
  }
  for (let cell = 0; cell < cells.count; cell++) {
    const box = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]
    for (const signed of ofCell[cell])
      for (let k = 0; k < 3; k++) {
        const v = indices[3 * (Math.abs(signed) - 1) + k]
        for (let i = 0; i < 3; i++) {
          box[i] = Math.min(box[i], positions[3 * v + i])
          box[i + 3] = Math.max(box[i + 3], positions[3 * v + i])
        }
      }
    boxes.set(box, 6 * cell)
  }
  return { solid, boxes }
}

/** Along the walls of a cell what it reaches to: x, y, z and how far, four a wall. What lies beyond one of them has nothing in common with it, whatever shapes both are of. */
function reachesOf({ positions: p, indices, wall, ofCell }: WallMesh, cell: number): number[] {
  const walls = new Set<number>()
  const out: number[] = []
  for (const signed of ofCell[cell]) {
    const t = Math.abs(signed) - 1
    // the first triangle of each tells which way it faces
    if (walls.has(wall[t])) continue
    walls.add(wall[t])
    const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]]
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]]
    const turn = Math.sign(signed)
    const [nx, ny, nz] = [turn * (uy * vz - uz * vy), turn * (uz * vx - ux * vz), turn * (ux * vy - uy * vx)]
    let most = -Infinity
    for (const other of ofCell[cell])
      for (let h = 3 * (Math.abs(other) - 1), k = 0; k < 3; k++) {
        const v = 3 * indices[h + k]
        most = Math.max(most, nx * p[v] + ny * p[v + 1] + nz * p[v + 2])
      }
    // rounding is far below this
    out.push(nx, ny, nz, most + 1e-9 * (Math.abs(most) + 1))
  }
  return out
}

/** Whether all places lie beyond one of the reaches. */
function isBeyond(places: Float64Array, reaches: readonly number[]): boolean {
  for (let r = 0; r < reaches.length; r += 4) {
    const [nx, ny, nz, most] = [reaches[r], reaches[r + 1], reaches[r + 2], reaches[r + 3]]
    let i = 0
    while (i < places.length && nx * places[i] + ny * places[i + 1] + nz * places[i + 2] > most) i += 3
    if (i === places.length) return true
  }
  return false
}

/** How often pieces are mended and fitted in turn. */
const TURNS = 4

/** `settled`: mending and fitting left nothing to do for each other. */
type Sound =
  | (Pick<Fitted, 'fragments' | 'fitting' | 'walls'> & { readonly sound: true; readonly settled: boolean })
  | { readonly sound: false; readonly places: readonly (readonly [number, number, number])[] }

/** Pieces that are certified each and fit their neighbours: both are seen to in turn, until neither has anything left to do. */
function soundTogether(list: readonly Fragment[], cells: Cells): Sound {
  let fitted: Fitted = { fragments: list, fitting: 0, walls: 0, alike: 0, changed: new Set(list.keys()), odd: [] }
  for (let turn = 0; turn <= TURNS; turn++) {
    const fragments = [...fitted.fragments]
    const touched = new Set<number>()
    const places: (readonly [number, number, number])[] = []
    for (const i of fitted.changed) {
      const mended = mendedFragment(fragments[i])
      if (!mended.sound) {
        places.push(...mended.places)
        continue
      }
      if (mended.fragment.solid === fragments[i].solid) {
        fragments[i] = mended.fragment
        continue
      }
      followed(fragments, i, mended.fragment).forEach((k) => touched.add(k))
    }
    if (places.length > 0) return { sound: false, places }
    if (fitted.odd.length > 0 && turn < TURNS) {
      const moves = new Map(fitted.odd.map(({ from, to }) => [from.join(' '), to]))
      movedIn(fragments, moves).forEach((k) => touched.add(k))
    }
    if (turn > 0 && touched.size === 0) return { sound: true, settled: true, ...fitted }
    fitted = fitTogether(fragments, cells, touched)
    fitted = { ...fitted, changed: new Set([...fitted.changed, ...touched]) }
  }
  // what one piece takes to be sound another does not: each is mended for itself, and some of their faces differ by next to nothing
  const mended = fitted.fragments.map((fragment, i) => (fitted.changed.has(i) ? mendedFragment(fragment) : { sound: true as const, fragment }))
  const places = mended.flatMap((each) => (each.sound ? [] : each.places))
  if (places.length > 0) return { sound: false, places }
  const fragments = mended.flatMap((each) => (each.sound ? [each.fragment] : []))
  const { alike, walls } = fitTogether(fragments, cells, new Set())
  return { sound: true, settled: false, fragments, fitting: alike, walls }
}

/** What mending may have moved, mm, at most. */
const MENDED = 2 ** -5

/** Puts in a piece that was mended, and moves the same places of its neighbours as it was moved itself. Returns which pieces are others now. */
function followed(fragments: Fragment[], i: number, mended: Fragment): number[] {
  const at = (p: Float64Array, v: number) => `${p[v]} ${p[v + 1]} ${p[v + 2]}`
  const [before, after] = [fragments[i].solid.positions, mended.solid.positions]
  const kept = new Set<string>()
  for (let v = 0; v < after.length; v += 3) kept.add(at(after, v))
  const moves = new Map<string, readonly number[]>()
  for (let v = 0; v < before.length; v += 3) {
    if (kept.has(at(before, v))) continue
    let [best, to] = [MENDED, -1]
    for (let w = 0; w < after.length; w += 3) {
      const far = Math.hypot(after[w] - before[v], after[w + 1] - before[v + 1], after[w + 2] - before[v + 2])
      if (far < best) [best, to] = [far, w]
    }
    if (to >= 0) moves.set(at(before, v), [after[to], after[to + 1], after[to + 2]])
  }
  fragments[i] = mended
  return [i, ...movedIn(fragments, moves, i)]
}

/** Moves the same places in all pieces but one, where that leaves them closed. Returns which pieces are others now. */
function movedIn(fragments: Fragment[], moves: ReadonlyMap<string, readonly number[]>, but = -1): number[] {
  if (moves.size === 0) return []
  const at = (p: Float64Array, v: number) => `${p[v]} ${p[v + 1]} ${p[v + 2]}`
  const places = [...moves.keys()].map((key) => key.split(' ').map(Number))
  return fragments.flatMap((other, k) => {
    const box = solidBounds(other.solid.positions)
    if (k === but || !places.some((place) => place.every((v, n) => v >= box[n] && v <= box[n + 3]))) return []
    const moved = movedAlike(other, moves, at)
    if (!moved) return []
    fragments[k] = moved
    return [k]
  })
}

/** A piece with some places moved, or welded where they come to lie at one; undefined when it has none of them or would not stay closed. */
function movedAlike(fragment: Fragment, moves: ReadonlyMap<string, readonly number[]>, at: (p: Float64Array, v: number) => string): Fragment | undefined {
  const { solid, wall } = fragment
  const p = solid.positions.slice()
  let any = false
  for (let v = 0; v < p.length; v += 3) {
    const to = moves.get(at(p, v))
    if (!to) continue
    p.set(to, v)
    any = true
  }
  if (!any) return undefined
  const first = new Map<string, number>()
  const of = Uint32Array.from({ length: p.length / 3 }, (_, v) => {
    const key = at(p, 3 * v)
    const known = first.get(key) ?? v
    first.set(key, known)
    return known
  })
  const indices = solid.indices.map((v) => of[v])
  const left = Uint32Array.from(wall.keys()).filter(
    (t) => indices[3 * t] !== indices[3 * t + 1] && indices[3 * t + 1] !== indices[3 * t + 2] && indices[3 * t] !== indices[3 * t + 2],
  )
  const moved = gather({ ...solid, positions: p, indices }, left)
  return isClosed(moved) ? { ...fragment, solid: moved, wall: Int32Array.from(left, (t) => wall[t]) } : undefined
}

/** What lies in each cell, as the kernel gives it, on the lattice; not mended yet. */
async function fragmentsOf(whole: Solid, mesh: WallMesh, breathe: () => Promise<void>): Promise<Fragment[]> {
  const { lattice } = whole
  const cells = cellSolids(mesh, lattice)
  const { of, groups } = letterParts(whole)
  const pieces = groups.length <= 1 ? [whole] : [...split(whole, (t) => of[t])].sort(([a], [b]) => a - b).map(([, piece]) => piece)
  const boxes = pieces.map(({ positions }) => solidBounds(positions))
  const found: Fragment[][] = pieces.map(() => [])
  await breathe()
  const attributes = attributesOf(pieces)
  withKernelSolids([], (kernel) => {
    const bodies = pieces.map((piece) => ({ body: kernel.put(piece, { everySide: true }), known: new SoundTriangles([piece]) }))
    for (let cell = 0; cell < mesh.cells.count; cell++) {
      const near = [...boxes.keys()].filter((i) =>
        [0, 1, 2].every((k) => boxes[i][k] <= cells.boxes[6 * cell + 3 + k] && boxes[i][k + 3] >= cells.boxes[6 * cell + k]),
      )
      if (near.length === 0) continue
      const reaches = reachesOf(mesh, cell)
      const meets = near.filter((i) => !isBeyond(pieces[i].positions, reaches))
      if (meets.length === 0) continue
      const cutter = kernel.put(cells.solid(cell), { everySide: true })
      for (const i of meets) {
        const { body, known } = bodies[i]
        const solid = kernel.common(body, cutter, (inner, common) => (common.isEmpty() ? undefined : inner.takeByPlace(common, lattice, attributes)))
        if (!solid) continue
        for (const connected of connectedSolids({ ...solid, letters: whole.letters })) found[i].push(asFragment(connected, cell, known))
      }
    }
  })
  return found.flat()
}

/** Whether rounding has spoilt nothing: no two vertices lie at one place and nothing crosses. Most often so, and then nothing has to be copied to be mended. */
function isWhole({ solid, known }: Fragment): boolean {
  const { positions, indices } = solid
  if (weldByPosition({ positions, indices: [] }).positions.length < positions.length) return false
  return crossingPairs(positions, indices, 1, { owners: known.ownersIn(solid), opposite: oppositesIn(solid) }).length === 0
}

/** A piece with what rounding has spoilt mended; with the same solid where there is nothing to mend. */
function mendedFragment(fragment: Fragment): { readonly sound: true; readonly fragment: Fragment } | Extract<Sound, { sound: false }> {
  if (isWhole(fragment)) return { sound: true, fragment: { ...fragment, known: new SoundTriangles([fragment.solid]) } }
  const { solid, mended } = mendedSolid(fragment.solid, fragment.known)
  if (!mended.sound) return { sound: false, places: mended.places }
  const known = new SoundTriangles([solid])
  return { sound: true, fragment: solid === fragment.solid ? { ...fragment, known } : asFragment(solid, fragment.cell, known) }
}

/** A piece without the numbers of its walls; break faces belong to the letter and the layer that most of the piece's outside belongs to. */
function finished({ solid, wall }: Fragment): Solid {
  const { labels, surface } = solid
  const outside = new Uint32Array(labels.group.length)
  for (let t = 0; t < surface.length; t++) if (wall[t] === NONE) outside[surface[t]]++
  const most = (label: 'letter' | 'layer', none: number) => {
    const counts = new Map<number, number>()
    outside.forEach((count, row) => {
      if (count > 0) counts.set(labels[label][row], (counts.get(labels[label][row]) ?? 0) + count)
    })
    return [...counts].sort((a, b) => b[1] - a[1] || a[0] - b[0])[0]?.[0] ?? none
  }
  const [letter, layer] = [most('letter', NONE), most('layer', 0)]
  const band = solid.bands.indexOf(WALL)
  const bands = solid.bands.filter((name) => name !== WALL)
  if (!bands.includes(BREAK)) bands.push(BREAK)
  const bandOf = solid.bands.map((name) => bands.indexOf(name === WALL ? BREAK : name))
  const broken = (row: number) => labels.group[row] === INSIDE && labels.band[row] === band
  const named = {
    ...labels,
    band: withLabel(labels, 'band', (row) => bandOf[labels.band[row]] ?? NONE).band,
    letter: withLabel(labels, 'letter', (row) => (broken(row) ? letter : labels.letter[row])).letter,
    layer: withLabel(labels, 'layer', (row) => (broken(row) ? layer : labels.layer[row])).layer,
    copy: withLabel(labels, 'copy', (row) => (broken(row) ? NONE : labels.copy[row])).copy,
  }
  return withParts(compact({ ...solid, bands, labels: named }))
}

/** The solid without vertices and rows of labels that it does not use, both in the order in which its triangles name them; its lists themselves where they are that already. */
function compact(solid: Solid): Solid {
  const { indices, surface, labels } = solid
  let vertices = 0
  for (let i = 0; i < indices.length; i++) {
    if (indices[i] > vertices) return gather(solid, Uint32Array.from(surface.keys()))
    if (indices[i] === vertices) vertices++
  }
  if (vertices < vertexCount(solid)) return gather(solid, Uint32Array.from(surface.keys()))
  const rowOf = new Int32Array(rowCount(labels)).fill(NONE)
  const used: number[] = []
  const numbered = new Uint32Array(surface.length)
  for (let t = 0; t < numbered.length; t++) {
    const row = surface[t]
    if (rowOf[row] < 0) rowOf[row] = used.push(row) - 1
    numbered[t] = rowOf[row]
  }
  return { ...solid, surface: numbered, labels: pickRows(labels, used) }
}
