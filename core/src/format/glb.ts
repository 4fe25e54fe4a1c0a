import { Document, type Primitive, WebIO } from '@gltf-transform/core'
import { type Solid, surfacesOf } from '../solid/solid'
import { FormatError, type MeshData } from './mesh-data'

/**
 * glTF 2.0 binary with one material and one primitive for every surface group and layer colour. Vertices are in mm as computed, bit for bit; the
 * node's scale of 0.001 makes them metres, as glTF wants. Y is up and the face looks to +Z in both.
 */
export async function writeGlb(solid: Solid, name: string): Promise<Uint8Array> {
  const document = new Document()
  document.getRoot().getAsset().generator = 'Kelvar'
  const buffer = document.createBuffer()
  const mesh = document.createMesh(name)
  const { surfaces, of } = surfacesOf(solid)
  surfaces.forEach(({ name: called, material }, number) => {
    const part = surfaceVertices(solid, of, number)
    const primitive: Primitive = document
      .createPrimitive()
      .setMaterial(
        document
          .createMaterial(called)
          .setBaseColorFactor([...linearColour(material.colour), 1])
          .setRoughnessFactor(material.roughness)
          .setMetallicFactor(material.metalness)
          .setEmissiveFactor(material.glow ? (linearColour(material.colour).map((c) => c * (material.glow ?? 0)) as [number, number, number]) : [0, 0, 0]),
      )
      .setIndices(document.createAccessor().setType('SCALAR').setArray(part.indices).setBuffer(buffer))
      .setAttribute('POSITION', document.createAccessor().setType('VEC3').setArray(part.positions).setBuffer(buffer))
      .setAttribute('NORMAL', document.createAccessor().setType('VEC3').setArray(part.normals).setBuffer(buffer))
      .setAttribute('TEXCOORD_0', document.createAccessor().setType('VEC2').setArray(part.uvs).setBuffer(buffer))
    mesh.addPrimitive(primitive)
  })
  const node = document.createNode(name).setMesh(mesh).setScale([0.001, 0.001, 0.001])
  const scene = document.createScene(name).addChild(node)
  document.getRoot().setDefaultScene(scene)
  return new WebIO().writeBinary(document)
}

/** sRGB "#rrggbb" to linear 0…1 (IEC 61966-2-1). */
export function linearColour(colour: string): [number, number, number] {
  const linear = (at: number) => {
    const c = Number.parseInt(colour.slice(at, at + 2), 16) / 255
    return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4
  }
  return [linear(1), linear(3), linear(5)]
}

interface GroupVertices {
  positions: Float32Array
  normals: Float32Array
  uvs: Float32Array
  indices: Uint32Array
}

/** The triangles of one surface with corners merged where position, normal and UV agree. */
export function surfaceVertices(solid: Solid, of: Uint16Array, surface: number): GroupVertices {
  const positions: number[] = []
  const normals: number[] = []
  const uvs: number[] = []
  const indices: number[] = []
  // per mesh vertex, the corners already written for it
  const written = new Map<number, number[]>()
  for (let t = 0; t < solid.group.length; t++) {
    if (of[t] !== surface) continue
    for (let i = 0; i < 3; i++) {
      const corner = 3 * t + i
      const v = solid.indices[corner]
      const n = solid.normals.subarray(3 * corner, 3 * corner + 3)
      const uv = solid.uvs.subarray(2 * corner, 2 * corner + 2)
      const list = written.get(v)
      let id = list?.find((w) => near(normals, 3 * w, n, 1e-4) && near(uvs, 2 * w, uv, 1e-4))
      if (id === undefined) {
        id = positions.length / 3
        positions.push(solid.positions[3 * v], solid.positions[3 * v + 1], solid.positions[3 * v + 2])
        normals.push(n[0], n[1], n[2])
        uvs.push(uv[0], uv[1])
        if (list) list.push(id)
        else written.set(v, [id])
      }
      indices.push(id)
    }
  }
  return {
    positions: Float32Array.from(positions),
    normals: Float32Array.from(normals),
    uvs: Float32Array.from(uvs),
    indices: Uint32Array.from(indices),
  }
}

function near(list: number[], at: number, values: ArrayLike<number>, tolerance: number): boolean {
  for (let i = 0; i < values.length; i++) if (Math.abs(list[at + i] - values[i]) > tolerance) return false
  return true
}

/** Reads the triangles of a GLB's default scene, placed by its nodes, in mm. Throws FormatError with a remedy. */
export async function readGlb(bytes: Uint8Array): Promise<MeshData> {
  let document: Document
  try {
    document = await new WebIO().readBinary(bytes)
  } catch (error) {
    throw new FormatError(`The GLB file cannot be read: ${error instanceof Error ? error.message : 'unknown fault'}.`)
  }
  const scene = document.getRoot().getDefaultScene() ?? document.getRoot().listScenes()[0]
  if (!scene) throw new FormatError('The GLB file holds no scene.')
  const positions: number[] = []
  const indices: number[] = []
  scene.traverse((node) => {
    const m = node.getWorldMatrix()
    for (const primitive of node.getMesh()?.listPrimitives() ?? []) {
      const source = primitive.getAttribute('POSITION')?.getArray()
      if (!source || primitive.getMode() !== 4) continue
      const base = positions.length / 3
      const order = primitive.getIndices()?.getArray() ?? Uint32Array.from({ length: source.length / 3 }, (_, i) => i)
      // metres to mm; Kelvar's own scale of exactly 1/1000 gives the written numbers back untouched
      const own = m.every((v, i) => v === (i === 15 ? 1 : i % 5 === 0 ? 0.001 : 0))
      for (let v = 0; v < source.length; v += 3) {
        const [x, y, z] = [source[v], source[v + 1], source[v + 2]]
        if (own) positions.push(x, y, z)
        else for (let k = 0; k < 3; k++) positions.push(1000 * (m[k] * x + m[4 + k] * y + m[8 + k] * z + m[12 + k]))
      }
      for (const v of order) indices.push(base + v)
    }
  })
  return { positions: Float64Array.from(positions), indices: Uint32Array.from(indices) }
}
