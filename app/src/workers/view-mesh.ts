import { type Assembly, assemblyBounds, bakedAssembly, inColour, matrixOf, pickEntries } from '@kelvar/core/solid/assembly'
import { joinPlaced, UNMOVED } from '@kelvar/core/solid/operations'
import { NONE } from '@kelvar/core/solid/labels'
import { hashBits, hashJson } from '@kelvar/core/cache/hash'
import { type Material, materialKey, withoutPicture } from '@kelvar/core/look/material'
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

/** Copies of one mesh: it is sent and drawn once for all of them. */
export interface ViewCopies {
  readonly mesh: ViewMesh
  /** 4 × 4 matrices, column by column, as graphics cards have them */
  readonly matrices: Float32Array
  /** of each copy its number, its letter, −1 for none, and the name of its place, three numbers (core/src/repeat/spots.ts) */
  readonly numbers: Int32Array
  readonly letters: Int32Array
  readonly spots: Float32Array
}

/**
 * A solid ready for the view, indexed: a vertex for every place and direction, its surfaces one behind another. The arrays may be
 * transferred.
 */
export interface ViewMesh {
  /** equal for meshes that have everything but the materials in common */
  readonly shape: string
  /** the same of it without its copies, where it has any */
  readonly own?: string
  /** x, y, z, mm */
  readonly positions: Float32Array
  /** x, y, z as shares of 32767 */
  readonly normals: Int16Array
  readonly indices: Uint32Array
  /** the letter each triangle belongs to, −1 for none, in the order of the indices */
  readonly letters: Int32Array
  readonly surfaces: readonly ViewSurface[]
  /** what stands there many times; drawn as instances */
  readonly copies?: readonly ViewCopies[]
  /** of copies: the letters that theirs are numbers of */
  readonly texts?: readonly string[]
  /** place in its material's picture, across and down; only where a material has one */
  readonly pictureUv?: Float32Array
  /** how strongly a step acts at each vertex, of 255; only where a mask is to be shown */
  readonly weights?: Uint8Array
  /** made of shards, which may touch: where their inside ends at the outside of others there are cracks */
  readonly shards?: boolean
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
  const contents = [
    positions,
    indices,
    surface,
    ...(attributes.normal ? [attributes.normal] : []),
    ...(attributes.pictureUv ? [attributes.pictureUv] : []),
  ].map(contentOf)
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
  const { pictureUv } = solid.attributes
  let places = new Float32Array(pictureUv ? 2 * before.length : 0)
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
      const s = pictureUv ? pictureUv[(2 * corner) / 3] : 0
      const u = pictureUv ? pictureUv[(2 * corner) / 3 + 1] : 0
      while (
        id >= 0 &&
        !(
          Math.abs(normals[3 * id] - x) < SAME &&
          Math.abs(normals[3 * id + 1] - y) < SAME &&
          Math.abs(normals[3 * id + 2] - z) < SAME &&
          (!pictureUv || (places[2 * id] === s && places[2 * id + 1] === u))
        )
      )
        id = before[id]
      if (id < 0) {
        id = count++
        if (id >= before.length) {
          const longer = Math.min(capacity, 2 * before.length)
          before = grown(before, longer)
          positions = grown(positions, 3 * longer)
          normals = grown(normals, 3 * longer)
          if (weight) weights = grown(weights, longer)
          if (pictureUv) places = grown(places, 2 * longer)
        }
        positions[3 * id] = p[3 * v]
        positions[3 * id + 1] = p[3 * v + 1]
        positions[3 * id + 2] = p[3 * v + 2]
        normals[3 * id] = x
        normals[3 * id + 1] = y
        normals[3 * id + 2] = z
        if (weight) weights[id] = Math.round(255 * weight[v])
        if (pictureUv) {
          places[2 * id] = s
          places[2 * id + 1] = u
        }
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
    ...(pictureUv ? { pictureUv: places.slice(0, 2 * count) } : {}),
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

/** An assembly for the view: what is no copy as one mesh, and copies of each unit, in each colour they wear, together. */
interface Parts {
  readonly body: Solid
  readonly copies: readonly { readonly solid: Solid; readonly entries: readonly number[] }[]
}

const parts = new WeakMap<Assembly, Parts>()

/** Taken apart once: a piece that is looked at again is the same assembly. */
function partsOf(assembly: Assembly): Parts {
  const known = parts.get(assembly)
  if (known) return known
  const { units, placements, letters, lattice } = assembly
  const { unit, copy, shard, colour } = placements
  // shards and things that move in turn stand by themselves as well
  const still = (i: number) => copy[i] === NONE && shard[i] === NONE
  const own: number[] = []
  const groups = new Map<string, { solid: Solid; entries: number[] }>()
  unit.forEach((u, i) => {
    if (still(i)) return own.push(i)
    const wears = colour?.[i] ?? NONE
    const group = groups.get(`${u} ${wears}`)
    if (group) group.entries.push(i)
    else groups.set(`${u} ${wears}`, { solid: wears === NONE ? units[u] : inColour(units[u], wears), entries: [i] })
  })
  const alone = own.length === 1 && matrixOf(placements, own[0]).every((v, k) => v === UNMOVED[k]) && placements.letter[own[0]] === NONE
  const body = own.length === 0 ? joinPlaced([], letters, lattice) : alone ? units[unit[own[0]]] : bakedAssembly(pickEntries(assembly, own))
  const made = { body, copies: [...groups.values()] }
  parts.set(assembly, made)
  return made
}

/** The part of a value that is one mesh: a solid itself, of an assembly what is no copy. */
export const bodyOf = (value: Solid | Assembly): Solid => (value.kind === 'solid' ? value : partsOf(value).body)

/** A value's shape, which is all but the materials of its body, and the surfaces of its body. */
export function valueSurfaces(value: Solid | Assembly): { shape: string; surfaces: ViewSurface[] } {
  const { shape, surfaces } = viewSurfaces(bodyOf(value))
  if (value.kind === 'solid') return { shape, surfaces }
  const { placements } = value
  const looks = value.units.map((unit) => [viewSurfaces(unit).shape, surfacesOf(unit).surfaces.map(({ name, material }) => [name, materialKey(material)])])
  const stand = [hashBits(placements.matrix), hashBits(placements.unit), hashBits(placements.copy), ...(placements.colour ? [hashBits(placements.colour)] : [])]
  return { shape: `${shape}+${hashJson([looks, stand])}`, surfaces }
}

/** New arrays for the view, of copies one mesh each. */
export function valueMesh(value: Solid | Assembly): ViewMesh {
  if (value.kind === 'solid') return viewMesh(value)
  const { matrix, copy, letter, spot, shard } = value.placements
  const { body, copies } = partsOf(value)
  const told = shard.some((number) => number !== NONE) ? { shards: true } : {}
  const own = { ...viewMesh(body), ...told }
  return {
    ...own,
    own: own.shape,
    shape: valueSurfaces(value).shape,
    box: assemblyBounds(value),
    texts: value.letters,
    copies: copies.map(({ solid, entries }): ViewCopies => {
      const matrices = new Float32Array(16 * entries.length)
      entries.forEach((entry, i) => {
        for (let column = 0; column < 4; column++) for (let row = 0; row < 3; row++) matrices[16 * i + 4 * column + row] = matrix[12 * entry + 4 * row + column]
        matrices[16 * i + 15] = 1
      })
      return {
        mesh: { ...viewMesh(solid), ...told },
        matrices,
        numbers: Int32Array.from(entries, (entry) => copy[entry]),
        letters: Int32Array.from(entries, (entry) => letter[entry]),
        spots: Float32Array.from({ length: 3 * entries.length }, (_, i) => spot?.[3 * entries[Math.floor(i / 3)] + (i % 3)] ?? 0),
      }
    }),
  }
}

/** A mesh without copies that looks the same but for pictures: each of them as triangles of its own. */
export function flattened(mesh: ViewMesh): ViewMesh {
  const { copies, texts: _, pictureUv, ...own } = mesh
  if (!copies && !pictureUv) return mesh
  if (!copies)
    return { ...own, shape: `${mesh.shape} flat`, surfaces: mesh.surfaces.map((surface) => ({ ...surface, material: withoutPicture(surface.material) })) }
  const all = [{ mesh: own as ViewMesh, matrices: Float32Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1) }, ...copies]
  const vertices = all.reduce((sum, part) => sum + (part.mesh.positions.length * part.matrices.length) / 16, 0)
  const corners = all.reduce((sum, part) => sum + (part.mesh.indices.length * part.matrices.length) / 16, 0)
  const positions = new Float32Array(vertices)
  const normals = new Int16Array(vertices)
  const indices = new Uint32Array(corners)
  const surfaces: ViewSurface[] = []
  let [v, c] = [0, 0]
  for (const { mesh: part, matrices: m } of all) {
    const [count, base] = [m.length / 16, v]
    for (let i = 0; i < count; i++)
      for (let o = 0; o < part.positions.length; o += 3, v += 3) {
        const [x, y, z] = part.positions.subarray(o, o + 3)
        const [nx, ny, nz] = part.normals.subarray(o, o + 3)
        const turned = [0, 1, 2].map((k) => m[16 * i + k] * nx + m[16 * i + 4 + k] * ny + m[16 * i + 8 + k] * nz)
        const size = Math.hypot(...turned) || 1
        for (let k = 0; k < 3; k++) {
          positions[v + k] = m[16 * i + k] * x + m[16 * i + 4 + k] * y + m[16 * i + 8 + k] * z + m[16 * i + 12 + k]
          normals[v + k] = Math.round((32767 * turned[k]) / size)
        }
      }
    for (const surface of part.surfaces) {
      const start = c
      for (let i = 0; i < count; i++) {
        const first = base / 3 + (i * part.positions.length) / 3
        for (let k = surface.start; k < surface.start + surface.count; k++) indices[c++] = part.indices[k] + first
      }
      // what is flat is looked at for a moment only
      surfaces.push({ ...surface, material: withoutPicture(surface.material), start, count: c - start })
    }
  }
  return { ...(own as ViewMesh), shape: `${mesh.shape} flat`, positions, normals, indices, letters: new Int32Array(corners / 3).fill(-1), surfaces }
}

/** A mesh whose arrays are those of meshes of the same shape, its copies' too, where such are known; those that are not are known from then on. */
export function sharing(mesh: ViewMesh, known: Map<string, ViewMesh>): ViewMesh {
  const shape = mesh.own ?? mesh.shape
  const like = known.get(shape)
  if (!like) known.set(shape, mesh)
  const { positions, normals, indices, letters, pictureUv } = like ?? mesh
  return {
    ...mesh,
    ...(mesh.weights ? {} : { positions, normals, indices, letters, ...(pictureUv ? { pictureUv } : {}) }),
    ...(mesh.copies ? { copies: mesh.copies.map((each) => ({ ...each, mesh: sharing(each.mesh, known) })) } : {}),
  }
}

/** The same mesh in other materials. */
export const inMaterials = (mesh: ViewMesh, surfaces: readonly ViewSurface[]): ViewMesh => ({
  ...mesh,
  surfaces: mesh.surfaces.map((s, i) => ({ ...s, name: surfaces[i].name, material: surfaces[i].material })),
})

export const meshBuffers = (mesh: ViewMesh): ArrayBuffer[] => [
  ...[mesh.positions, mesh.normals, mesh.indices, mesh.letters, ...(mesh.weights ? [mesh.weights] : []), ...(mesh.pictureUv ? [mesh.pictureUv] : [])].map(
    (array) => array.buffer as ArrayBuffer,
  ),
  ...(mesh.copies ?? []).flatMap(({ mesh: unit, matrices, numbers, letters, spots }) => [
    ...meshBuffers(unit),
    ...[matrices, numbers, letters, spots].map((array) => array.buffer as ArrayBuffer),
  ]),
]

export const meshBytes = (mesh: ViewMesh): number => meshBuffers(mesh).reduce((sum, buffer) => sum + buffer.byteLength, 0)

/** Whether anything of it is there: of what has not come yet, nothing is. */
export const isThere = ({ box }: Pick<ViewMesh, 'box'>): boolean => box[0] <= box[3]

export const meshTriangles = (mesh: Pick<ViewMesh, 'indices'>): number => mesh.indices.length / 3

/** Triangles with those of all copies. */
export const shownTriangles = ({ indices, copies = [] }: Pick<ViewMesh, 'indices' | 'copies'>): number =>
  copies.reduce((sum, { mesh, matrices }) => sum + (meshTriangles(mesh) * matrices.length) / 16, indices.length / 3)
