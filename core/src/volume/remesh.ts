import { volumeOf } from '../solid/volume'
import { mendedSolid } from '../join/placed'
import { snap } from '../outline/lattice'
import type { Threads } from '../parallel/share-out'
import type { Triangles } from '../solid/from-triangles'
import { type Solid, solidBounds } from '../solid/solid'
import { crossingSuspects, crossingVertices } from './crossings'
import { fillBeyond, type Side } from './beyond'
import { type DualMesh, dualMesh } from './dual-mesh'
import { SparseField, TILE } from './field'
import { handLabels } from './hand-labels'
import { type LabelledMesh, solidOf } from './labelled'
import { lendToNeighbours } from './lend'
import { sharpPlacer } from './sharp'
import { splat, splatReach } from './splat'
import { signByWinding } from './winding'
import { WindingTree } from './winding-tree'

/** How a field becomes triangles again: even and soft, or with edges and corners kept. */
export type Way = 'smooth' | 'sharp'

/** What long work does between its parts; rejects when it is stopped. */
export type Breathe = () => Promise<void>

/** How long work is done: what it breathes by, and other threads that may do some of it, to the very same. */
export interface Working {
  readonly breathe?: Breathe
  readonly threads?: Threads
  readonly signal?: AbortSignal
}

const noBreath: Breathe = async () => {}

/**
 * The field of any triangles: exact within `band` voxels, or, where one `side` is enough, on that side and within 3 voxels on the other. Where they are no closed surface, samples inside are told by a winding number that
 * bears holes. `open` is the number of lines on which they were found not to be closed. Throws RangeError when the box holds too many tiles.
 */
export async function fieldOf(
  mesh: Triangles,
  voxel: number,
  { band = 3, side, breathe = noBreath, threads, signal }: Working & { band?: number; side?: Side } = {},
) {
  const field = new SparseField(solidBounds(mesh.positions), voxel, band)
  const near = side ? splatReach(mesh, voxel, band, 1) : band
  await splat(field, mesh, { reach: near, breathe, threads, signal })
  await breathe()
  const open = signed(field, mesh)
  await breathe()
  if (near < band) await fillBeyond(field, mesh, band, { side, breathe })
  return { field, open }
}

/** Gives a splatted field its signs, of any triangles; and the number of lines on which these were found open. */
const signed = (field: SparseField, mesh: Triangles): number =>
  signByWinding(field, mesh, () => {
    const tree = new WindingTree(mesh)
    return (x, y, z) => tree.at(x, y, z)
  })

/**
 * The field of any triangles about one depth inside, mm: distances are exact where cells are crossed so deep, and only told to be less or more elsewhere.
 * Costs as many looks for the nearest triangle as there are samples so deep, not as lie between there and the surface. Throws as `fieldOf` does.
 */
export async function fieldAtDepth(mesh: Triangles, voxel: number, depth: number, breathe: Breathe = noBreath): Promise<SparseField> {
  const field = new SparseField(solidBounds(mesh.positions), voxel, Math.ceil(depth / voxel + ASIDE))
  await splat(field, mesh, { reach: NEXT, breathe })
  signed(field, mesh)
  await breathe()
  await fillBeyond(field, mesh, depth / voxel + ASIDE, { side: 'inside', deep: depth - ASIDE * voxel, breathe })
  return field
}

/** A crossed cell's corners lie no farther than this many voxels from where it is crossed: √3, and a little. */
const ASIDE = 1.75
/** Every tile that the surface goes through has a sample so many voxels from it: half of √3 at most. */
const NEXT = 1

export type Meshed =
  | { readonly ok: true; readonly solid: Solid /** corners that had to give up some sharpness, so that nothing crosses */; readonly blunted: number }
  | { readonly ok: false; readonly places: readonly (readonly [number, number, number])[] }

/**
 * A field's surface as a certified solid, its voxels whole steps of the lattice: labels come from the source (see handLabels), names from `names`. Corners go back
 * towards the means of their crossings where triangles would cross.
 */
export async function solidOfField(
  field: SparseField,
  source: LabelledMesh,
  names: Solid,
  { way, lattice, breathe = noBreath }: { way: Way; lattice: number; breathe?: Breathe },
): Promise<Meshed> {
  const { mesh, blunted, crossing, parted } = await meshOf(field, source, way, lattice, breathe)
  if (mesh.indices.length === 0) return { ok: false, places: [] }
  await breathe()
  const handed = handLabels(field, mesh, source, way === 'sharp')
  await breathe()
  const { positions, indices } = handed
  for (let i = 3 * mesh.cell.length; i < positions.length; i++) positions[i] = snap(positions[i], lattice) + 0
  const solid = solidOf(handed, names, lattice)
  // cutting along borders has moved and added vertices: what hangs on them is looked at again
  const suspect = new Uint8Array(indices.length / 3)
  for (let i = 0; i < indices.length; i++) {
    const v = indices[i]
    const moved = v >= mesh.cell.length || parted[v] === 1 || [0, 1, 2].some((k) => positions[3 * v + k] !== mesh.positions[3 * v + k])
    if (!moved) continue
    for (let k = 0; k < 3; k++) positions[3 * v + k] = snap(positions[3 * v + k], lattice) + 0
    suspect[Math.floor(i / 3)] = 1
  }
  await breathe()
  if (crossing === 0) {
    const look = () => crossingSuspects(positions, indices, suspect, { lattice, size: 2 * field.voxel })
    for (let found = look(), round = 0; round < ROUNDS; found = look(), round++) {
      if (found.size === 0) return { ok: true, solid, blunted }
      await breathe()
      // a border through where the mesh has its vertex is better than one that has to be mended
      let back = false
      for (const v of found) {
        if (v >= mesh.cell.length) continue
        for (let k = 3 * v; k < 3 * v + 3; k++) {
          if (positions[k] !== mesh.positions[k]) back = true
          positions[k] = mesh.positions[k]
        }
      }
      if (!back) break
    }
  }
  const { solid: mended, mended: did } = mendedSolid(solid)
  await breathe()
  return did.sound ? { ok: true, solid: mended, blunted } : { ok: false, places: did.places }
}

/** Rounds of drawing corners back, and after so many of them wholly. */
const ROUNDS = 12
const WHOLLY = 4

/** The mesh on the lattice, how many of its corners gave up sharpness, how many vertices of crossing triangles are left, and which vertices were parted from those of other cells. */
async function meshOf(
  field: SparseField,
  source: Triangles,
  way: Way,
  lattice: number,
  breathe: Breathe,
): Promise<{ mesh: DualMesh; blunted: number; crossing: number; parted: Uint8Array }> {
  const put = way === 'sharp' ? sharpPlacer(field, source, lattice) : undefined
  const mesh = await dualMesh(field, { breathe, ...(put ? { place: put } : {}) })
  const { positions, safe } = mesh
  for (let i = 0; i < positions.length; i++) positions[i] = snap(positions[i], lattice) + 0
  const { part, parted } = cellParting(field, mesh, lattice)
  for (let v = 0; v < mesh.cell.length; v++) part(v)
  const blunted = new Set<number>()
  let crossing = crossingVertices(mesh)
  for (let round = 0; crossing.size > 0 && round < ROUNDS; round++) {
    await breathe()
    for (const v of crossing) {
      blunted.add(v)
      for (let k = 3 * v; k < 3 * v + 3; k++) positions[k] = snap(round >= WHOLLY ? safe[k] : (positions[k] + safe[k]) / 2, lattice) + 0
      part(v)
    }
    crossing = crossingVertices(mesh)
  }
  return { mesh, blunted: blunted.size, crossing: crossing.size, parted }
}

/**
 * A vertex that lies upon the border of its cell is moved a step of the lattice into it (`part`), where a cell beyond has vertices, too: quads without a cell in common
 * then do not touch either, as two sheets of surface on both sides of one layer of samples would. `parted` tells which were moved (1).
 */
function cellParting(field: SparseField, { positions: p, cell }: DualMesh, lattice: number): { part: (v: number) => void; parted: Uint8Array } {
  const parted = new Uint8Array(cell.length)
  const h = field.voxel
  const { origin } = field
  const [wide, high, deep] = field.tiles.map((n) => 8 * n)
  const crossed = new Uint8Array(TILE * field.count)
  for (let v = 0; v < cell.length; v++) crossed[cell[v]] = 1
  const has = (x: number, y: number, z: number): boolean =>
    x >= 0 && y >= 0 && z >= 0 && x < wide && y < high && z < deep && crossed[field.indexOf(x, y, z)] === 1
  let slot = -1
  let corner: readonly number[] = []
  const at = [0, 0, 0]
  const by = [0, 0, 0]
  const into = [0, 0, 0]
  const part = (v: number): void => {
    const c = cell[v]
    // vertices of one tile follow each other
    if (c >> 9 !== slot) corner = field.cornerOf((slot = c >> 9))
    let upon = false
    for (let k = 0; k < 3; k++) {
      at[k] = corner[k] + ((c >> (3 * k)) & 7)
      const low = origin[k] + at[k] * h
      by[k] = p[3 * v + k] <= low ? -1 : p[3 * v + k] >= low + h ? 1 : 0
      if (by[k] !== 0) upon = true
    }
    if (!upon) return
    into.fill(0)
    // beyond each side, edge or corner that it lies upon
    for (let some = 1; some < 8; some++) {
      const dx = some & 1 ? by[0] : 0
      const dy = some & 2 ? by[1] : 0
      const dz = some & 4 ? by[2] : 0
      if ((some & 1 && dx === 0) || (some & 2 && dy === 0) || (some & 4 && dz === 0)) continue
      if (!has(at[0] + dx, at[1] + dy, at[2] + dz)) continue
      if (dx !== 0) into[0] = dx
      if (dy !== 0) into[1] = dy
      if (dz !== 0) into[2] = dz
    }
    for (let k = 0; k < 3; k++) {
      if (into[k] === 0) continue
      p[3 * v + k] = origin[k] + (at[k] + (into[k] > 0 ? 1 : 0)) * h - into[k] * lattice
      parted[v] = 1
    }
  }
  return { part, parted }
}

/**
 * The field with right distances again, after its zero surface was moved by anything: its surface is meshed and splatted anew. Each sample
 * goes on knowing the triangle of the source that is nearest to where its surface came from.
 */
export async function redistanced(
  field: SparseField,
  { band = field.band, side, level = 0, breathe = noBreath, threads, signal }: Working & { band?: number; side?: Side; level?: number } = {},
): Promise<SparseField> {
  const mesh = await dualMesh(field, { level, breathe })
  if (mesh.indices.length === 0) return field
  const origin = handTriangles(field, mesh)
  const { field: made } = await fieldOf(mesh, field.voxel, { band, side, breathe, threads, signal })
  for (let p = 0; p < made.triangle.length; p++) if (made.triangle[p] >= 0) made.triangle[p] = origin[mesh.indices[3 * made.triangle[p]]]
  made.borrowed = true
  // triangles lie within what is round: meshed again and again it would shrink
  const again = await dualMesh(made, { breathe })
  const shift = (volumeOf(mesh) - volumeOf(again)) / areaOf(again)
  for (let p = 0; p < made.distance.length; p++) made.distance[p] -= shift
  return made
}

/** Per vertex of a mesh of a field a source triangle that is near; neighbours lend theirs where the field knows of none. */
function handTriangles(field: SparseField, mesh: DualMesh): Int32Array {
  const origin = new Int32Array(mesh.cell.length).fill(-1)
  for (let v = 0; v < origin.length; v++) {
    const p = mesh.cell[v]
    const [x, y, z] = field.cornerOf(p >> 9)
    const [i, j, k] = [x + (p & 7), y + ((p >> 3) & 7), z + ((p >> 6) & 7)]
    let least = Infinity
    for (let c = 0; c < 8; c++) {
      const at = field.indexOf(i + (c & 1), j + ((c >> 1) & 1), k + (c >> 2))
      if (at < 0 || field.triangle[at] < 0 || Math.abs(field.distance[at]) >= least) continue
      least = Math.abs(field.distance[at])
      origin[v] = field.triangle[at]
    }
  }
  lendToNeighbours(origin, mesh.indices)
  return origin
}

function areaOf({ positions: p, indices }: Triangles): number {
  let sum = 0
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [3 * indices[t], 3 * indices[t + 1], 3 * indices[t + 2]]
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]]
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]]
    sum += Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2
  }
  return sum
}
