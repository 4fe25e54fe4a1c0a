import { type Buffer, Document, type Mesh, type Primitive, type Texture, WebIO } from '@gltf-transform/core'
import { EXTMeshGPUInstancing, EXTTextureWebP } from '@gltf-transform/extensions'
import { linearColour, type MaterialPicture } from '../look/material'
import { type Assembly, inColour, shardNames } from '../solid/assembly'
import { NONE } from '../solid/labels'
import { WRAPS } from './model-picture'
import { normalsOf, uvsOf } from '../solid/shading'
import { type Solid, surfacesOf, triangleCount } from '../solid/solid'

/**
 * glTF 2.0 binary with one material and one primitive for every surface group and layer colour. Vertices are in mm as computed, bit for bit; the
 * node's scale of 0.001 makes them metres, as glTF wants. Y is up and the face looks to +Z in both. Copies of an assembly share their mesh: they are written
 * as instances (EXT_mesh_gpu_instancing), or as a node each for readers that do not know those.
 */
export async function writeGlb(value: Solid | Assembly, name: string, copies: 'instances' | 'nodes' = 'instances'): Promise<Uint8Array> {
  const document = new Document()
  document.getRoot().getAsset().generator = 'Kelvar'
  const buffer = document.createBuffer()
  const root = document.createNode(name).setScale([0.001, 0.001, 0.001])
  if (value.kind === 'solid') root.setMesh(meshOf(document, buffer, value, name))
  else {
    const instancing = copies === 'instances' ? document.createExtension(EXTMeshGPUInstancing) : undefined
    const names = shardNames(value)
    for (const { unit, colour, entries } of alike(value)) {
      const solid = value.units[unit]
      if (triangleCount(solid) === 0) continue
      const mesh = meshOf(document, buffer, colour === NONE ? solid : inColour(solid, colour), names[entries[0]] || `${name} ${unit + 1}`)
      const places = entries.map((i) => decomposed(value.placements.matrix, i))
      if (entries.length > 1 && instancing)
        root.addChild(
          document
            .createNode(mesh.getName())
            .setMesh(mesh)
            .setExtension('EXT_mesh_gpu_instancing', instances(document, buffer, instancing, places)),
        )
      else
        places.forEach(({ translation, rotation, scale }, k) =>
          root.addChild(
            document
              .createNode(entries.length > 1 ? `${mesh.getName()}.${k + 1}` : mesh.getName())
              .setMesh(mesh)
              .setTranslation(translation)
              .setRotation(rotation)
              .setScale(scale),
          ),
        )
    }
  }
  const scene = document.createScene(name).addChild(root)
  document.getRoot().setDefaultScene(scene)
  return new WebIO().registerExtensions([EXTMeshGPUInstancing, EXTTextureWebP]).writeBinary(document)
}

/** Entries of an assembly that are drawn alike. */
function alike({ placements: { unit, colour } }: Assembly): { unit: number; colour: number; entries: number[] }[] {
  const groups = new Map<string, { unit: number; colour: number; entries: number[] }>()
  unit.forEach((u, i) => {
    const own = colour?.[i] ?? NONE
    const group = groups.get(`${u} ${own}`)
    if (group) group.entries.push(i)
    else groups.set(`${u} ${own}`, { unit: u, colour: own, entries: [i] })
  })
  return [...groups.values()]
}

interface Decomposed {
  readonly translation: [number, number, number]
  /** a quaternion x, y, z, w */
  readonly rotation: [number, number, number, number]
  readonly scale: [number, number, number]
}

/** A matrix without shear as glTF's translation, rotation and scale. */
function decomposed(m: Float64Array, i: number): Decomposed {
  const o = 12 * i
  const scale = [0, 1, 2].map((k) => Math.hypot(m[o + k], m[o + 4 + k], m[o + 8 + k])) as [number, number, number]
  const r = [0, 1, 2].map((row) => [0, 1, 2].map((k) => m[o + 4 * row + k] / (scale[k] || 1)))
  const turned =
    r[0][0] * (r[1][1] * r[2][2] - r[1][2] * r[2][1]) - r[0][1] * (r[1][0] * r[2][2] - r[1][2] * r[2][0]) + r[0][2] * (r[1][0] * r[2][1] - r[1][1] * r[2][0])
  if (turned < 0) {
    scale[0] = -scale[0]
    for (const row of r) row[0] = -row[0]
  }
  return { translation: [m[o + 3], m[o + 7], m[o + 11]], rotation: quaternionOf(r), scale }
}

/** Shepperd, Quaternion from rotation matrix (1978): by the largest of its numbers. */
function quaternionOf(r: readonly (readonly number[])[]): [number, number, number, number] {
  const trace = r[0][0] + r[1][1] + r[2][2]
  const largest = [trace, r[0][0], r[1][1], r[2][2]].reduce((best, v, i, list) => (v > list[best] ? i : best), 0)
  if (largest === 0) {
    const w = Math.sqrt(1 + trace) / 2
    return [(r[2][1] - r[1][2]) / (4 * w), (r[0][2] - r[2][0]) / (4 * w), (r[1][0] - r[0][1]) / (4 * w), w]
  }
  const [i, j, k] = [largest - 1, largest % 3, (largest + 1) % 3]
  const a = Math.sqrt(Math.max(0, 1 + r[i][i] - r[j][j] - r[k][k])) / 2
  const q: [number, number, number, number] = [0, 0, 0, (r[k][j] - r[j][k]) / (4 * a)]
  q[i] = a
  q[j] = (r[j][i] + r[i][j]) / (4 * a)
  q[k] = (r[k][i] + r[i][k]) / (4 * a)
  return q
}

/** Instances of one mesh; what is the same for all as the standard's own value is left out. */
function instances(document: Document, buffer: Buffer, extension: EXTMeshGPUInstancing, places: readonly Decomposed[]) {
  const batch = extension.createInstancedMesh()
  const accessor = (type: 'VEC3' | 'VEC4', list: readonly number[]) =>
    document.createAccessor().setType(type).setArray(Float32Array.from(list)).setBuffer(buffer)
  batch.setAttribute(
    'TRANSLATION',
    accessor(
      'VEC3',
      places.flatMap((p) => p.translation),
    ),
  )
  if (places.some(({ rotation: [x, y, z] }) => x !== 0 || y !== 0 || z !== 0))
    batch.setAttribute(
      'ROTATION',
      accessor(
        'VEC4',
        places.flatMap((p) => p.rotation),
      ),
    )
  if (places.some(({ scale }) => scale.some((s) => Math.abs(s - 1) > 1e-9)))
    batch.setAttribute(
      'SCALE',
      accessor(
        'VEC3',
        places.flatMap((p) => p.scale),
      ),
    )
  return batch
}

/** A material's picture, written once for all that wear it. */
function textureOf(document: Document, { key, type, bytes }: MaterialPicture): Texture {
  const known = document
    .getRoot()
    .listTextures()
    .find((texture) => texture.getName() === key)
  if (known) return known
  if (type === 'image/webp') document.createExtension(EXTTextureWebP).setRequired(true)
  return document
    .createTexture(key)
    .setMimeType(type)
    .setImage(bytes as Uint8Array<ArrayBuffer>)
}

function meshOf(document: Document, buffer: Buffer, solid: Solid, name: string): Mesh {
  const mesh = document.createMesh(name)
  const { surfaces, of } = surfacesOf(solid)
  surfaces.forEach(({ name: called, material }, number) => {
    const { picture } = material
    const part = surfaceVertices(solid, of, number, (picture && solid.attributes.pictureUv) || uvsOf(solid))
    const look = document.createMaterial(called)
    const [across, down] = picture?.beyond ?? ['again', 'again']
    const primitive: Primitive = document
      .createPrimitive()
      .setMaterial(
        look
          .setBaseColorFactor([...linearColour(picture?.tint ?? material.colour), 1 - (material.clear ?? 0)])
          .setBaseColorTexture(picture ? textureOf(document, picture) : null)
          .setAlphaMode(material.clear ? 'BLEND' : 'OPAQUE')
          .setRoughnessFactor(material.roughness)
          .setMetallicFactor(material.metalness)
          .setEmissiveFactor(material.glow ? (linearColour(material.colour).map((c) => c * (material.glow ?? 0)) as [number, number, number]) : [0, 0, 0]),
      )
      .setIndices(document.createAccessor().setType('SCALAR').setArray(part.indices).setBuffer(buffer))
      .setAttribute('POSITION', document.createAccessor().setType('VEC3').setArray(part.positions).setBuffer(buffer))
      .setAttribute('NORMAL', document.createAccessor().setType('VEC3').setArray(part.normals).setBuffer(buffer))
      .setAttribute('TEXCOORD_0', document.createAccessor().setType('VEC2').setArray(part.uvs).setBuffer(buffer))
    look.getBaseColorTextureInfo()?.setWrapS(WRAPS[across]).setWrapT(WRAPS[down])
    mesh.addPrimitive(primitive)
  })
  return mesh
}

interface GroupVertices {
  positions: Float32Array
  normals: Float32Array
  uvs: Float32Array
  indices: Uint32Array
}

/** The triangles of one surface with corners merged where position, normal and texture coordinates agree. */
function surfaceVertices(solid: Solid, of: ArrayLike<number>, surface: number, uv: Float32Array): GroupVertices {
  let triangles = 0
  for (let t = 0; t < of.length; t++) if (of[t] === surface) triangles++
  const { positions: p, indices: ids } = solid
  const normal = normalsOf(solid)
  // at most one vertex a corner; what is not used is cut off
  const positions = new Float32Array(9 * triangles)
  const normals = new Float32Array(9 * triangles)
  const uvs = new Float32Array(6 * triangles)
  const indices = new Uint32Array(3 * triangles)
  // per mesh vertex the last one written for it, and per written one the one before
  const last = new Int32Array(p.length / 3).fill(-1)
  const before = new Int32Array(3 * triangles)
  let [count, at] = [0, 0]
  for (let t = 0; t < triangleCount(solid); t++) {
    if (of[t] !== surface) continue
    for (let corner = 3 * t; corner < 3 * t + 3; corner++) {
      const v = ids[corner]
      let id = last[v]
      while (id >= 0 && !(near(normals, 3 * id, normal, 3 * corner, 3) && near(uvs, 2 * id, uv, 2 * corner, 2))) id = before[id]
      if (id < 0) {
        id = count++
        for (let k = 0; k < 3; k++) {
          positions[3 * id + k] = p[3 * v + k]
          normals[3 * id + k] = normal[3 * corner + k]
        }
        uvs[2 * id] = uv[2 * corner]
        uvs[2 * id + 1] = uv[2 * corner + 1]
        before[id] = last[v]
        last[v] = id
      }
      indices[at++] = id
    }
  }
  return { positions: positions.slice(0, 3 * count), normals: normals.slice(0, 3 * count), uvs: uvs.slice(0, 2 * count), indices }
}

/** Normals and coordinates closer than this are the same. */
const SAME = 1e-4

function near(list: Float32Array, at: number, values: Float32Array, from: number, size: number): boolean {
  for (let i = 0; i < size; i++) if (Math.abs(list[at + i] - values[from + i]) > SAME) return false
  return true
}
