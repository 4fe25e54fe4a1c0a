import { Document, type Primitive, WebIO } from '@gltf-transform/core'
import { linearColour } from '../look/material'
import { normalsOf, uvsOf } from '../solid/shading'
import { type Solid, surfacesOf, triangleCount } from '../solid/solid'

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

interface GroupVertices {
  positions: Float32Array
  normals: Float32Array
  uvs: Float32Array
  indices: Uint32Array
}

/** The triangles of one surface with corners merged where position, normal and UV agree. */
function surfaceVertices(solid: Solid, of: ArrayLike<number>, surface: number): GroupVertices {
  let triangles = 0
  for (let t = 0; t < of.length; t++) if (of[t] === surface) triangles++
  const { positions: p, indices: ids } = solid
  const [normal, uv] = [normalsOf(solid), uvsOf(solid)]
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
