import { type Accessor, type Document, type JSONDocument, type Material as GltfMaterial, type Node, type Primitive, WebIO } from '@gltf-transform/core'
import type { Transform } from '@gltf-transform/extensions'
import { colourOfLinear, linearColour, type Look, type Material, type MaterialPicture, type PictureBeyond, rgbOf, UNDRESSED } from '../look/material'
import { MeshBuilder } from './mesh-builder'
import { FormatError, type MeshData, MOST_TRIANGLES } from './mesh-data'
import { type ModelPicture, modelPicture, pictured, WRAPS } from './model-picture'
import type { Picture } from './picture'

/** What a file may claim to unpack to, bytes. */
const MOST_UNPACKED = 1024 * 1024 * 1024
const MOST_VALUES = 30 * MOST_TRIANGLES

/** Placed copies of one file, counted also where they hold nothing. */
const MOST_PLACED = 200_000

/**
 * Reads the triangles of a glTF 2.0 file, binary or JSON with all its data within: the default scene, placed by its nodes and instances
 * (EXT_mesh_gpu_instancing), in mm, packed by Draco or meshopt or not (KHR_draco_mesh_compression, EXT_meshopt_compression,
 * KHR_mesh_quantization). Each mesh is a part in its materials, which keep their pictures (PNG, JPEG, and WebP by EXT_texture_webp, moved by KHR_texture_transform); where
 * the mesh has colours of its own, triangles take the colour at their middle. Nothing else is fetched. Throws FormatError with a remedy.
 */
export async function readGltf(bytes: Uint8Array): Promise<MeshData> {
  try {
    return await meshOf(await documentOf(bytes))
  } catch (error) {
    if (error instanceof FormatError) throw error
    throw new FormatError(`The glTF file cannot be read: ${error instanceof Error ? error.message.replace(/\.$/, '').slice(0, 300) : 'unknown fault'}.`)
  }
}

async function documentOf(bytes: Uint8Array): Promise<Document> {
  const io = new WebIO()
  const binary = new TextDecoder('latin1').decode(bytes.subarray(0, 4)) === 'glTF'
  const elsewhere = () =>
    new FormatError('The glTF file keeps parts of itself in other files, which are not fetched.', 'Export it as GLB, or with everything in one file.')
  let file: JSONDocument
  if (binary) {
    try {
      file = await io.binaryToJSON(bytes)
    } catch (error) {
      if (error instanceof Error && error.message.includes('external')) throw elsewhere()
      throw error
    }
  } else file = { json: JSON.parse(new TextDecoder().decode(bytes)), resources: {} }
  bound(file.json)
  if (!binary) for (const { uri } of [...(file.json.buffers ?? []), ...(file.json.images ?? [])]) if (uri && !/^data:/.test(uri)) throw elsewhere()
  const used: readonly string[] = file.json.extensionsUsed ?? []
  if (used.length > 0) {
    const known = await import('@gltf-transform/extensions')
    io.registerExtensions([
      known.EXTMeshGPUInstancing,
      known.EXTMeshoptCompression,
      known.EXTTextureWebP,
      known.KHRDracoMeshCompression,
      known.KHRMaterialsEmissiveStrength,
      known.KHRMeshQuantization,
      known.KHRTextureTransform,
    ])
    if (used.includes('KHR_draco_mesh_compression')) {
      const { loadDraco } = await import('../kernel/draco')
      io.registerDependencies({ 'draco3d.decoder': await loadDraco() })
    }
    if (used.includes('EXT_meshopt_compression')) {
      const { MeshoptDecoder } = await import('meshoptimizer/decoder')
      await MeshoptDecoder.ready
      io.registerDependencies({ 'meshopt.decoder': MeshoptDecoder })
    }
  }
  return io.readJSON(file)
}

/** Refuses what claims to unpack to more than a model can be, before anything is made for it. */
function bound(json: JSONDocument['json']): void {
  if (typeof json !== 'object' || json === null || typeof json.asset !== 'object')
    throw new FormatError('The file is no glTF model: it says nothing of itself.')
  const large = () => new FormatError('The glTF file announces more than a model can hold.', 'Export it with fewer triangles.')
  const natural = (value: unknown) => typeof value === 'number' && Number.isInteger(value) && value >= 0
  for (const { count } of json.accessors ?? []) {
    if (!natural(count)) throw new FormatError('The glTF file has a list of no whole number of values.')
    if (count > MOST_VALUES) throw large()
  }
  let unpacked = 0
  for (const { byteLength, extensions } of json.bufferViews ?? []) {
    const packed = extensions?.EXT_meshopt_compression as { count?: unknown; byteStride?: unknown } | undefined
    const size = packed ? Number(packed.count) * Number(packed.byteStride) : byteLength
    if (!natural(size)) throw new FormatError('The glTF file has data of no whole number of bytes.')
    unpacked += size
  }
  if (unpacked > MOST_UNPACKED) throw large()
  for (const { byteLength } of json.buffers ?? []) if (!natural(byteLength) || byteLength > MOST_UNPACKED) throw large()
}

async function meshOf(document: Document): Promise<MeshData> {
  const scene = document.getRoot().getDefaultScene() ?? document.getRoot().listScenes()[0]
  if (!scene) throw new FormatError('The glTF file holds no scene.')
  const pictures = new Map<GltfMaterial, ModelPicture>()
  for (const texture of document.getRoot().listTextures()) {
    const image = texture.getImage()
    const wearers = document
      .getRoot()
      .listMaterials()
      .filter((material) => material.getBaseColorTexture() === texture)
    const picture = image && wearers.length > 0 ? await modelPicture(image) : undefined
    if (picture) for (const material of wearers) pictures.set(material, picture)
  }
  const mesh = new MeshBuilder()
  let placed = 0
  scene.traverse((node) => {
    const of = node.getMesh()
    if (!of) return
    const matrix = node.getWorldMatrix()
    for (const m of instancesOf(node, matrix)) {
      if (++placed > MOST_PLACED) throw new FormatError(`The glTF file places more than ${MOST_PLACED.toLocaleString('en')} meshes.`, 'Export fewer copies.')
      for (const primitive of of.listPrimitives()) put(mesh, primitive, m, (node.getName() || of.getName()).slice(0, 200), pictures)
    }
  })
  if (mesh.triangles === 0) throw new FormatError('The glTF file holds no triangles.')
  return mesh.finish()
}

/** A mesh's places: the node's own, or one for each of its instances. Matrices are of four columns. */
function instancesOf(node: Node, own: readonly number[]): (readonly number[])[] {
  const instanced = node.getExtension<{ getAttribute(name: string): Accessor | null } & NonNullable<ReturnType<Node['getExtension']>>>(
    'EXT_mesh_gpu_instancing',
  )
  if (!instanced) return [own]
  const [moved, turned, sized] = ['TRANSLATION', 'ROTATION', 'SCALE'].map((name) => instanced.getAttribute(name))
  const count = (moved ?? turned ?? sized)?.getCount() ?? 0
  if (count > MOST_PLACED) throw new FormatError(`The glTF file places more than ${MOST_PLACED.toLocaleString('en')} meshes.`, 'Export fewer copies.')
  return Array.from({ length: count }, (_, i) => {
    const at = (list: Accessor | null, otherwise: number[]) => (list ? list.getElement(i, otherwise.slice()) : otherwise)
    const [x, y, z, w] = at(turned, [0, 0, 0, 1])
    const s = at(sized, [1, 1, 1])
    const t = at(moved, [0, 0, 0])
    // columns of a unit quaternion's rotation
    const r = [
      [1 - 2 * (y * y + z * z), 2 * (x * y + z * w), 2 * (x * z - y * w)],
      [2 * (x * y - z * w), 1 - 2 * (x * x + z * z), 2 * (y * z + x * w)],
      [2 * (x * z + y * w), 2 * (y * z - x * w), 1 - 2 * (x * x + y * y)],
    ]
    const local = [...r.flatMap((column, k) => [...column.map((v) => v * s[k]), 0]), ...t, 1]
    return Array.from({ length: 16 }, (_, j) => [0, 1, 2, 3].reduce((sum, k) => sum + own[4 * k + (j % 4)] * local[4 * Math.floor(j / 4) + k], 0))
  })
}

const TRIANGLES = 4
const STRIP = 5
const FAN = 6

function put(mesh: MeshBuilder, primitive: Primitive, m: readonly number[], part: string, pictures: ReadonlyMap<GltfMaterial, ModelPicture>): void {
  const positions = primitive.getAttribute('POSITION')
  const mode = primitive.getMode()
  if (!positions || ![TRIANGLES, STRIP, FAN].includes(mode)) return
  // metres to mm; Kelvar's own scale of exactly 1/1000 gives the written numbers back untouched
  const own = m.every((v, i) => v === (i === 15 ? 1 : i % 5 === 0 ? 0.001 : 0))
  const base = mesh.vertices
  const count = positions.getCount()
  const p = [0, 0, 0]
  for (let v = 0; v < count; v++) {
    positions.getElement(v, p)
    const [x, y, z] = p
    if (own) mesh.vertex(x, y, z)
    else
      mesh.vertex(
        1000 * (m[0] * x + m[4] * y + m[8] * z + m[12]),
        1000 * (m[1] * x + m[5] * y + m[9] * z + m[13]),
        1000 * (m[2] * x + m[6] * y + m[10] * z + m[14]),
      )
  }
  const mirrored = m[0] * (m[5] * m[10] - m[6] * m[9]) - m[4] * (m[1] * m[10] - m[2] * m[9]) + m[8] * (m[1] * m[6] - m[2] * m[5]) < 0
  const order = primitive.getIndices()
  const length = order?.getCount() ?? count
  const at = (i: number) => {
    const v = order ? order.getScalar(i) : i
    if (!(Number.isInteger(v) && v >= 0 && v < count)) throw new FormatError('The glTF file names a vertex that is not there.')
    return v
  }
  const material = primitive.getMaterial()
  const picture = material ? pictures.get(material) : undefined
  const plain = material ? lookOf(material) : undefined
  const places = material && picture ? placesOf(primitive, material) : undefined
  // colours of its own cannot be told by the picture
  const tint = tintOf(primitive, plain?.material ?? UNDRESSED, places && picture ? { places, picture: picture.seen } : undefined)
  const worn = !tint && plain && picture ? places : undefined
  const surface = mesh.surface(part, worn && plain && picture ? pictured(plain, { ...picture, ...beyondOf(material) }) : plain)
  const steps = mode === TRIANGLES ? Math.floor(length / 3) : Math.max(0, length - 2)
  for (let t = 0; t < steps; t++) {
    const odd = mode === STRIP && t % 2 === 1
    const [a, b, c] =
      mode === TRIANGLES ? [at(3 * t), at(3 * t + 1), at(3 * t + 2)] : mode === STRIP ? [at(t), at(t + 1), at(t + 2)] : [at(0), at(t + 1), at(t + 2)]
    const [second, third] = odd !== mirrored ? [c, b] : [b, c]
    mesh.triangle(base + a, base + second, base + third, surface, tint ? tint(a, b, c) : -1)
    if (worn) mesh.pictured(worn, a, second, third)
  }
}

function lookOf(material: GltfMaterial): Look {
  const round = (v: number) => Math.round(1000 * Math.min(1, Math.max(0, v))) / 1000
  const light = material.getEmissiveFactor()
  const colour = colourOfLinear(material.getBaseColorFactor())
  const glow = round(Math.max(...light) / Math.max(1e-3, ...linearColour(colour)))
  const wears: Material = { colour, roughness: round(material.getRoughnessFactor()), metalness: round(material.getMetallicFactor()) }
  const clear = material.getAlphaMode() === 'BLEND' ? round(1 - material.getAlpha()) : 0
  return { name: material.getName().slice(0, 200) || colour, material: { ...wears, ...(glow > 0 ? { glow } : {}), ...(clear > 0 ? { clear } : {}) } }
}

/** What lies beyond a material's picture, by the numbers that glTF has from OpenGL. */
function beyondOf(material: GltfMaterial | null): Pick<MaterialPicture, 'beyond'> {
  const info = material?.getBaseColorTextureInfo()
  const beyond = [info?.getWrapS(), info?.getWrapT()].map((wrap) => (Object.keys(WRAPS) as PictureBeyond[]).find((name) => WRAPS[name] === wrap) ?? 'again')
  return beyond.every((name) => name === 'again') ? {} : { beyond: beyond as [PictureBeyond, PictureBeyond] }
}

/** Where in its material's picture the vertices lie, two numbers each, moved by KHR_texture_transform; undefined where the mesh does not say. */
function placesOf(primitive: Primitive, material: GltfMaterial): Float64Array | undefined {
  const info = material.getBaseColorTextureInfo()
  const moved = info?.getExtension<Transform>('KHR_texture_transform')
  const places = primitive.getAttribute(`TEXCOORD_${moved?.getTexCoord() ?? info?.getTexCoord() ?? 0}`)
  if (!places) return undefined
  const value = [0, 0]
  const [ox, oy] = moved?.getOffset() ?? [0, 0]
  const [sx, sy] = moved?.getScale() ?? [1, 1]
  const [c, s] = [Math.cos(moved?.getRotation() ?? 0), Math.sin(moved?.getRotation() ?? 0)]
  const out = new Float64Array(2 * places.getCount())
  for (let v = 0; v < out.length; v += 2) {
    places.getElement(v / 2, value)
    const [x, y] = [sx * value[0], sy * value[1]]
    out[v] = ox + c * x + s * y
    out[v + 1] = oy - s * x + c * y
  }
  return out
}

/** The colour at a triangle's middle, by its corners: the mesh's own times what its material's picture has there; undefined when the mesh has none of its own. */
function tintOf(
  primitive: Primitive,
  wears: Material,
  worn: { places: Float64Array; picture: Picture } | undefined,
): ((a: number, b: number, c: number) => number) | undefined {
  const colours = primitive.getAttribute('COLOR_0')
  if (!colours) return undefined
  const factor = linearColour(wears.colour)
  const value = [0, 0, 0, 1]
  const wrapped = (v: number, size: number) => Math.min(size - 1, Math.floor((v - Math.floor(v)) * size))
  return (a, b, c) => {
    const linear = factor.slice()
    const sum = [0, 0, 0]
    for (const v of [a, b, c]) {
      colours.getElement(v, value)
      for (let k = 0; k < 3; k++) sum[k] += value[k] / 3
    }
    for (let k = 0; k < 3; k++) linear[k] *= sum[k]
    if (worn) {
      const { places, picture } = worn
      let [u, w] = [0, 0]
      for (const v of [a, b, c]) {
        u += places[2 * v] / 3
        w += places[2 * v + 1] / 3
      }
      if (Number.isFinite(u + w)) {
        const at = 4 * (wrapped(w, picture.height) * picture.width + wrapped(u, picture.width))
        const seen = linearColour(`#${[0, 1, 2].map((k) => picture.rgba[at + k].toString(16).padStart(2, '0')).join('')}`)
        for (let k = 0; k < 3; k++) linear[k] *= seen[k]
      }
    }
    const [r, g, bl] = rgbOf(colourOfLinear(linear))
    return (r << 16) | (g << 8) | bl
  }
}
