import { INSIDE, labelTable, NONE, PLAIN_ROW } from '../solid/labels'
import { latticeFor, snap } from '../outline/lattice'
import { mendedSolid } from '../join/placed'
import { gather } from '../solid/operations'
import { connectedParts, type Solid, solidBounds } from '../solid/solid'
import { crossingVertices } from './crossings'
import { dualMesh } from './dual-mesh'
import { type Breathe, fieldAtDepth } from './remesh'
import { volumeOf } from '../solid/volume'

/** A cavity smaller than this many voxels is left solid. */
const LEAST = 30

export interface Cavities {
  /** the room inside, facing outwards as a body would; its vertices lie on the lattice */
  readonly room: Solid
  /** its lowest points, one for each closed cavity, mm */
  readonly lowest: readonly (readonly [number, number, number])[]
}

/**
 * The room within a solid that leaves a wall of so many mm everywhere: the surface of its own exact distances at that depth. Undefined where
 * nothing is so thick. `false` when it could not be made free of crossings.
 */
export async function cavitiesOf(solid: Solid, wall: number, voxel: number, breathe: Breathe): Promise<Cavities | undefined | false> {
  const field = await fieldAtDepth(solid, voxel, wall, breathe)
  const lattice = Math.max(solid.lattice, latticeFor(solidBounds(solid.positions).reduce((most, v) => Math.max(most, Math.abs(v)), 0)))
  const mesh = await dualMesh(field, {
    level: -wall,
    breathe,
    place: (positions, v) => {
      for (let k = 3 * v; k < 3 * v + 3; k++) positions[k] = snap(positions[k], lattice) + 0
    },
  })
  if (mesh.indices.length === 0) return undefined
  const { part, count } = connectedParts(mesh.indices, mesh.cell.length)
  const lists: number[][] = Array.from({ length: count }, () => [])
  for (let t = 0; t < part.length; t++) lists[part[t]].push(t)
  const of = (list: readonly number[]) => {
    const indices = new Uint32Array(3 * list.length)
    list.forEach((t, i) => indices.set(mesh.indices.subarray(3 * t, 3 * t + 3), 3 * i))
    return indices
  }
  const kept = lists.filter((list) => Math.abs(volumeOf({ positions: mesh.positions, indices: of(list) })) > LEAST * voxel ** 3)
  if (kept.length === 0) return undefined
  const whole: Solid = {
    kind: 'solid',
    positions: mesh.positions,
    indices: mesh.indices,
    surface: new Uint32Array(mesh.indices.length / 3),
    labels: labelTable([{ ...PLAIN_ROW, group: INSIDE, layer: NONE }]),
    attributes: {},
    letters: [],
    layers: [],
    bands: [],
    looks: [],
    lattice,
  }
  // without what is left solid
  const room = gather(whole, kept.flat())
  const lowest = kept.map((list) => lowestOf(mesh.positions, of(list), voxel))
  if (crossingVertices(mesh).size === 0) return { room, lowest }
  const { solid: mended, mended: did } = mendedSolid(room)
  return did.sound ? { room: mended, lowest } : false
}

/** Of the points at the foot of a cavity the one nearest to their middle. */
function lowestOf(p: Float64Array, indices: Uint32Array, voxel: number): [number, number, number] {
  let foot = Infinity
  for (const v of indices) foot = Math.min(foot, p[3 * v + 1])
  const low = [...new Set(indices)].filter((v) => p[3 * v + 1] < foot + 2 * voxel)
  const middle = [0, 2].map((k) => low.reduce((sum, v) => sum + p[3 * v + k], 0) / low.length)
  const off = (v: number) => Math.hypot(p[3 * v] - middle[0], p[3 * v + 2] - middle[1])
  const best = low.reduce((a, b) => (off(b) < off(a) ? b : a))
  return [p[3 * best], p[3 * best + 1], p[3 * best + 2]]
}
