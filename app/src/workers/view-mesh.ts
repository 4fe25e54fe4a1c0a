import { hashBits } from '@kelvar/core/cache/hash'
import type { Material } from '@kelvar/core/look/material'
import type { Group } from '@kelvar/core/solid/labels'
import { normalsOf } from '@kelvar/core/solid/shading'
import { type Solid, solidBounds, surfacesOf, triangleCount, vertexCount } from '@kelvar/core/solid/solid'

/** Triangles of one surface: a stretch of the mesh's indices. */
export interface ViewSurface {
  readonly group: Group
  readonly name: string
  readonly material: Material
  /** first index and how many, three a triangle */
  readonly start: number
  readonly count: number
}

/**
 * A solid ready for the view, indexed: a vertex for every place and direction, its surfaces one behind another. The arrays may be
 * transferred.
 */
export interface ViewMesh {
  /** equal for meshes that have everything but the materials in common */
  readonly shape: string
  /** x, y, z, mm */
  readonly positions: Float32Array
  /** x, y, z as shares of 32767 */
  readonly normals: Int16Array
  readonly indices: Uint32Array
  /** the letter each triangle belongs to, −1 for none, in the order of the indices */
  readonly letters: Int32Array
  readonly surfaces: readonly ViewSurface[]
  /** how strongly a step acts at each vertex, of 255; only where a mask is to be shown */
  readonly weights?: Uint8Array
  /** [minX, minY, minZ, maxX, maxY, maxZ] mm */
  readonly box: readonly [number, number, number, number, number, number]
}

const hashes = new WeakMap<ArrayBufferLike, string>()

/** A hash of an array's contents, worked out once for arrays that are shared. */
function contentOf(array: Float64Array | Float32Array | Uint32Array): string {
  if (array.byteLength !== array.buffer.byteLength) return hashBits(array)
  let hash = hashes.get(array.buffer)
  if (hash === undefined) hashes.set(array.buffer, (hash = hashBits(array)))
  return hash
}

/** A solid's surfaces as they lie in its mesh, which of them each triangle belongs to, and what its mesh has besides materials. */
export function viewSurfaces(solid: Solid): { shape: string; surfaces: ViewSurface[]; of: Uint32Array } {
  const { surfaces, of } = surfacesOf(solid)
  const start = new Uint32Array(surfaces.length + 1)
  for (let t = 0; t < of.length; t++) start[of[t] + 1] += 3
  for (let s = 0; s < surfaces.length; s++) start[s + 1] += start[s]
  const { positions, indices, surface, attributes, labels } = solid
  const contents = [positions, indices, surface, ...(attributes.normal ? [attributes.normal] : [])].map(contentOf)
  return {
    shape: [...contents, hashBits(of), hashBits(labels.letter)].join('-'),
    surfaces: surfaces.map((s, i) => ({ ...s, start: start[i], count: start[i + 1] - start[i] })),
    of,
  }
}

/** New arrays for the view; with the weights of its vertices where a mask is to be shown. */
export function viewMesh(solid: Solid, masked = false): ViewMesh {
  const { shape, surfaces, of } = viewSurfaces(solid)
  const triangles = triangleCount(solid)
  const at = Uint32Array.from(surfaces, ({ start }) => start)
  const indices = new Uint32Array(3 * triangles)
  const letters = new Int32Array(triangles)
  const normal = normalsOf(solid)
  const { positions: p, indices: ids, surface, labels } = solid
  // per vertex the last one made for it, and per made one the one before: those of one place that differ in direction
  const last = new Int32Array(vertexCount(solid)).fill(-1)
  const capacity = 3 * triangles
  let before = new Int32Array(Math.min(capacity, 2 * vertexCount(solid) + 64))
  let positions = new Float32Array(3 * before.length)
  let normals = new Int16Array(3 * before.length)
  const weight = masked ? solid.attributes.weight : undefined
  let weights = new Uint8Array(weight ? before.length : 0)
  let count = 0
  for (let t = 0; t < triangles; t++) {
    const o = at[of[t]]
    at[of[t]] += 3
    letters[o / 3] = labels.letter[surface[t]]
    for (let k = 0; k < 3; k++) {
      const corner = 3 * (3 * t + k)
      const v = ids[3 * t + k]
      const x = Math.round(32767 * normal[corner])
      const y = Math.round(32767 * normal[corner + 1])
      const z = Math.round(32767 * normal[corner + 2])
      let id = last[v]
      while (id >= 0 && !(Math.abs(normals[3 * id] - x) < SAME && Math.abs(normals[3 * id + 1] - y) < SAME && Math.abs(normals[3 * id + 2] - z) < SAME))
        id = before[id]
      if (id < 0) {
        id = count++
        if (id >= before.length) {
          const longer = Math.min(capacity, 2 * before.length)
          before = grown(before, longer)
          positions = grown(positions, 3 * longer)
          normals = grown(normals, 3 * longer)
          if (weight) weights = grown(weights, longer)
        }
        positions[3 * id] = p[3 * v]
        positions[3 * id + 1] = p[3 * v + 1]
        positions[3 * id + 2] = p[3 * v + 2]
        normals[3 * id] = x
        normals[3 * id + 1] = y
        normals[3 * id + 2] = z
        if (weight) weights[id] = Math.round(255 * weight[v])
        before[id] = last[v]
        last[v] = id
      }
      indices[o + k] = id
    }
  }
  return {
    positions: positions.slice(0, 3 * count),
    normals: normals.slice(0, 3 * count),
    indices,
    letters,
    shape,
    surfaces,
    ...(weight ? { weights: weights.slice(0, count) } : {}),
    box: solidBounds(p),
  }
}

/** Directions nearer than this are one, of 32767: about a hundredth of a degree. */
const SAME = 8

function grown<T extends Int32Array | Float32Array | Int16Array | Uint8Array>(array: T, length: number): T {
  const copy = new (array.constructor as new (length: number) => T)(length)
  copy.set(array)
  return copy
}

/** The same mesh in other materials. */
export const inMaterials = (mesh: ViewMesh, surfaces: readonly ViewSurface[]): ViewMesh => ({
  ...mesh,
  surfaces: mesh.surfaces.map((s, i) => ({ ...s, name: surfaces[i].name, material: surfaces[i].material })),
})

export const meshBuffers = (mesh: ViewMesh): ArrayBuffer[] =>
  [mesh.positions, mesh.normals, mesh.indices, mesh.letters, ...(mesh.weights ? [mesh.weights] : [])].map((array) => array.buffer as ArrayBuffer)

export const meshBytes = (mesh: ViewMesh): number => meshBuffers(mesh).reduce((sum, buffer) => sum + buffer.byteLength, 0)

export const meshTriangles = (mesh: Pick<ViewMesh, 'indices'>): number => mesh.indices.length / 3
