import { Document, WebIO } from '@gltf-transform/core'
import { encode } from 'fast-png'
import { boxMesh } from './helpers'

/** Green on the left, blue on the right, eight by four pixels. */
export const PNG = encode({
  width: 8,
  height: 4,
  channels: 3,
  data: Uint8Array.from({ length: 8 * 4 * 3 }, (_, i) => (Math.floor(i / 3) % 8 < 4 ? [0, 255, 0] : [0, 0, 255])[i % 3]),
})
export const BOX = boxMesh(0, 0, 0, 40, 30, 20)
/** Where a point of the box lies in its picture: the same all over it, whatever becomes of its triangles. */
export const placeOf = (x: number, y: number, z: number) => [x / 40 + z / 160 + 0.25, 1.5 - y / 30 + z / 80] as const

/** A box with a picture on it as a GLB by an independent writer: each triangle has corners of its own, in metres. */
export async function picturedBox({ positions, indices }: { positions: ArrayLike<number>; indices: ArrayLike<number> }, tint = [1, 1, 1]): Promise<Uint8Array> {
  const document = new Document()
  const buffer = document.createBuffer()
  const corners = Array.from(indices, (v) => [0, 1, 2].map((k) => positions[3 * v + k]))
  const floats = (type: 'VEC2' | 'VEC3', values: number[]) => document.createAccessor().setType(type).setArray(Float32Array.from(values)).setBuffer(buffer)
  const texture = document.createTexture('lid').setMimeType('image/png').setImage(PNG)
  const material = document
    .createMaterial('Lid')
    .setBaseColorTexture(texture)
    .setBaseColorFactor([...tint, 1] as [number, number, number, number])
    .setRoughnessFactor(0.4)
  const primitive = document
    .createPrimitive()
    .setMaterial(material)
    .setAttribute(
      'POSITION',
      floats(
        'VEC3',
        corners.flatMap((p) => p.map((v) => v / 1000)),
      ),
    )
    .setAttribute(
      'TEXCOORD_0',
      floats(
        'VEC2',
        corners.flatMap(([x, y, z]) => [...placeOf(x, y, z)]),
      ),
    )
  const mesh = document.createMesh('box').addPrimitive(primitive)
  document.getRoot().setDefaultScene(document.createScene().addChild(document.createNode('box').setMesh(mesh)))
  return new WebIO().writeBinary(document)
}
