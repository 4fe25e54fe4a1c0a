import { Document, WebIO } from '@gltf-transform/core'
import { ALL_EXTENSIONS, KHRTextureTransform } from '@gltf-transform/extensions'
import { encode } from 'fast-png'
import { unzipSync } from 'fflate'
import { beforeAll, describe, expect, it } from 'vitest'
import { boxMesh, boxSolid } from '../../test/helpers'
import { Memo } from '../cache/memo'
import { hashBytes } from '../cache/hash'
import { evaluateRoute } from '../evaluate/route'
import { joinSolid } from '../join/join'
import { loadManifold } from '../kernel/manifold'
import { asAssembly } from '../repeat/assemble'
import { bakedAssembly, inColour } from '../solid/assembly'
import { GROUPS } from '../solid/labels'
import { UNMOVED } from '../solid/operations'
import { labelAt, type Solid, surfacesOf, triangleCount } from '../solid/solid'
import { modelFile } from '../steps/source/model-file/index'
import { type AssetSource, MissingAssetError } from '../steps/step'
import { writeGlb } from './glb'
import { readGltf } from './gltf'
import { writeObjArchive } from './obj'

beforeAll(async () => void (await loadManifold()))

// green on the left, blue on the right, eight by four pixels
const PNG = encode({
  width: 8,
  height: 4,
  channels: 3,
  data: Uint8Array.from({ length: 8 * 4 * 3 }, (_, i) => (Math.floor(i / 3) % 8 < 4 ? [0, 255, 0] : [0, 0, 255])[i % 3]),
})
const BOX = boxMesh(0, 0, 0, 40, 30, 20)
/** Where a point of the box lies in its picture: the same all over it, whatever becomes of its triangles. */
const placeOf = (x: number, y: number, z: number) => [x / 40 + z / 160 + 0.25, 1.5 - y / 30 + z / 80] as const

/** A box with a picture on it as a GLB by an independent writer: each triangle has corners of its own, in metres. */
async function picturedBox({ positions, indices }: { positions: ArrayLike<number>; indices: ArrayLike<number> }, tint = [1, 1, 1]): Promise<Uint8Array> {
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

async function bring(bytes: Uint8Array, params: Record<string, unknown> = {}): Promise<Solid> {
  const sha256 = hashBytes(bytes)
  const none = async (of: string) => Promise.reject(new MissingAssetError(of))
  const assets: AssetSource = { font: none, picture: none, file: async () => bytes }
  const given = modelFile.params.parse({ file: { sha256, name: 'box' }, ground: false, ...params })
  const outcome = await modelFile.evaluate(undefined, given, { assets, inputs: {}, memo: new Memo(), progress: () => {}, breathe: async () => {} })
  if (!outcome.ok) throw new Error(`${outcome.issue.code}: ${outcome.issue.message}`)
  if (outcome.value.kind !== 'solid') throw new Error(outcome.value.kind)
  return outcome.value
}

/** Corners of triangles that lie elsewhere in the picture than their place says, where `counts` of a triangle. */
function misplaced({ positions, indices, attributes: { pictureUv } }: Solid, counts: (t: number) => boolean = () => true): number {
  if (!pictureUv) throw new Error('no places in pictures')
  let wrong = 0
  for (let c = 0; c < indices.length; c++) {
    if (!counts(Math.floor(c / 3))) continue
    const v = 3 * indices[c]
    const [u, w] = placeOf(positions[v], positions[v + 1], positions[v + 2])
    if (Math.abs(pictureUv[2 * c] - u) > 1e-4 || Math.abs(pictureUv[2 * c + 1] - w) > 1e-4) wrong++
  }
  return wrong
}

describe('a model with a picture on it', () => {
  it('keeps the picture as it came, where it lay, and its mean for what shows none', async () => {
    const solid = await bring(await picturedBox(BOX, [1, 0.5, 0.25]))
    expect(misplaced(solid)).toBe(0)
    const { surfaces } = surfacesOf(solid)
    expect(surfaces).toHaveLength(1)
    const { material } = surfaces[0]
    expect(material.picture).toMatchObject({ type: 'image/png', tint: '#ffbc89' })
    expect(material.picture?.bytes).toEqual(PNG)
    expect(material.roughness).toBe(0.4)
    // half green, half blue, by a half and by a quarter: 0.25 and 0.125 linear
    expect(material.colour).toBe('#008963')
    // without places there is nothing to show it by, and in a colour of its own it is not seen
    expect(surfacesOf({ ...solid, attributes: {} }).surfaces[0].material).toEqual({ colour: '#008963', roughness: 0.4, metalness: 1 })
    expect(surfacesOf(inColour(solid, 0x123456)).surfaces[0].material).toEqual({ colour: '#123456', roughness: 0.4, metalness: 1 })
  })

  it('keeps it where it lay through repairs', async () => {
    // a hole, a triangle that faces the wrong way, and a side with a corner in its middle
    const whole = Array.from(BOX.indices)
    const [a, b, c] = whole.slice(6, 9)
    const middle = [0, 1, 2].map((k) => (BOX.positions[3 * a + k] + BOX.positions[3 * b + k]) / 2)
    const m = BOX.positions.length / 3
    const broken = [...whole.slice(3, 6), a, m, c, m, b, c, ...whole.slice(9, 12), whole[12], whole[14], whole[13], ...whole.slice(15)]
    const bytes = await picturedBox({ positions: [...BOX.positions, ...middle], indices: broken })
    const solid = await bring(bytes, { repair: 'on' })
    expect(triangleCount(solid)).toBeGreaterThan(12)
    // what closes the hole has the picture of its rim, stretched
    expect(misplaced(solid)).toBeLessThanOrEqual(3)
    expect(surfacesOf(solid).surfaces[0].material.picture?.bytes).toEqual(PNG)
    for (const v of solid.attributes.pictureUv ?? []) expect(Number.isFinite(v)).toBe(true)
  })

  it('keeps it where it lay when something is carved into it or fused with it, which wears none of it', async () => {
    const box = await bring(await picturedBox(BOX))
    const other = boxSolid([10, 8, 12], [25, 21, 33])
    for (const how of ['carve', 'fuse', 'overlap'] as const) {
      const joined = joinSolid(box, [{ solid: other, matrix: UNMOVED }], how)
      if (!joined.ok) throw new Error(how)
      const { surfaces, of } = surfacesOf(joined.solid)
      const worn = (t: number) => surfaces[of[t]].material.picture !== undefined
      const pictured = Array.from({ length: triangleCount(joined.solid) }, (_, t) => t).filter(worn)
      expect(pictured.length).toBeGreaterThan(how === 'overlap' ? 0 : 11)
      expect(pictured.length).toBeLessThan(triangleCount(joined.solid))
      expect(misplaced(joined.solid, worn), how).toBe(0)
      if (how === 'carve') for (const t of pictured) expect(GROUPS[labelAt(joined.solid, t, 'group')]).not.toBe('inside')
    }
    expect(misplaced(bakedAssembly(asAssembly(box)))).toBe(0)
  })

  it('is in its mean colour once its surface is another one, and that is said', async () => {
    const bytes = await picturedBox(BOX)
    const none = async (of: string) => Promise.reject(new MissingAssetError(of))
    const file = { sha256: hashBytes(bytes), name: 'box' }
    const step = (kind: string, params: Record<string, unknown> = {}) => ({ id: `${kind}-1`, kind, on: true, params })
    const made = await evaluateRoute([step('model-file', { file }), step('twist', { angle: 20 }), step('voxel-remesh', { fit: 'given', voxel: 2 })], {
      assets: { font: none, picture: none, file: async () => bytes },
    })
    if (made.value?.kind !== 'solid') throw new Error('no solid')
    // twisted it is the same surface
    expect(made.steps.map(({ issues }) => issues.some(({ code }) => code === 'picture-lost'))).toEqual([false, false, true])
    expect(surfacesOf(made.value).surfaces.map(({ material }) => material)).toEqual([{ colour: '#00bcbc', roughness: 0.4, metalness: 1 }])
  })

  it('goes out with it as GLB, and comes back the same', async () => {
    const solid = await bring(await picturedBox(BOX, [0.5, 1, 1]))
    const glb = await writeGlb(solid, 'box')
    const document = await new WebIO().registerExtensions(ALL_EXTENSIONS).readBinary(glb)
    const [texture] = document.getRoot().listTextures()
    expect(document.getRoot().listTextures()).toHaveLength(1)
    expect(texture.getMimeType()).toBe('image/png')
    expect(texture.getImage()).toEqual(PNG)
    const [primitive] = document.getRoot().listMeshes()[0].listPrimitives()
    expect(primitive.getMaterial()?.getBaseColorTexture()).toBe(texture)
    expect(primitive.getMaterial()?.getBaseColorFactor()[0]).toBeCloseTo(0.5, 2)
    const [at, uv] = ['POSITION', 'TEXCOORD_0'].map((name) => primitive.getAttribute(name))
    for (let v = 0; v < (at?.getCount() ?? 0); v++) {
      const [x, y, z]: number[] = at?.getElement(v, []) ?? []
      const place: number[] = uv?.getElement(v, []) ?? []
      placeOf(x, y, z).forEach((want, k) => expect(place[k]).toBeCloseTo(want, 5))
    }
    const again = await bring(glb)
    expect(misplaced(again)).toBe(0)
    expect(surfacesOf(again).surfaces[0].material).toEqual(surfacesOf(solid).surfaces[0].material)
  })

  it('goes out with it as OBJ, heights in it counted from below', async () => {
    const parts = unzipSync(writeObjArchive(await bring(await picturedBox(BOX)), 'box'))
    const mtl = new TextDecoder().decode(parts['piece.mtl'])
    const file = /^map_Kd (\S+)$/m.exec(mtl)?.[1] ?? ''
    expect(parts[file]).toEqual(PNG)
    expect(mtl).toContain('Kd 1.0000 1.0000 1.0000')
    const lines = new TextDecoder().decode(parts['piece.obj']).split('\n')
    const of = (word: string) => lines.filter((line) => line.startsWith(`${word} `)).map((line) => line.split(' ').slice(1))
    const [places, coordinates] = [of('v'), of('vt')]
    for (const corner of of('f').flat()) {
      const [v, vt] = corner.split('/').map((n) => Number(n) - 1)
      const [u, w] = placeOf(...(places[v].map(Number) as [number, number, number]))
      expect(Number(coordinates[vt][0])).toBeCloseTo(u, 4)
      expect(Number(coordinates[vt][1])).toBeCloseTo(1 - w, 4)
    }
  })

  it('takes a picture that is moved, turned and sized on it as the standard has it', async () => {
    const document = await new WebIO().readBinary(await picturedBox(BOX))
    const extension = document.createExtension(KHRTextureTransform)
    const [offset, scale, angle] = [[0.25, -0.5], [2, 3], Math.PI / 2] as const
    document
      .getRoot()
      .listMaterials()[0]
      .getBaseColorTextureInfo()
      ?.setExtension(
        'KHR_texture_transform',
        extension
          .createTransform()
          .setOffset([...offset])
          .setScale([...scale])
          .setRotation(angle),
      )
    const { positions, indices, pictureUv } = await readGltf(await new WebIO().registerExtensions(ALL_EXTENSIONS).writeBinary(document))
    expect(pictureUv).toHaveLength(2 * indices.length)
    for (let c = 0; c < indices.length; c++) {
      const [x, y, z] = positions.slice(3 * indices[c], 3 * indices[c] + 3)
      const [u, v] = placeOf(x, y, z)
      // a quarter turn against the clock, heights counted downwards: what is right comes to lie above
      expect(pictureUv?.[2 * c]).toBeCloseTo(offset[0] + scale[1] * v, 4)
      expect(pictureUv?.[2 * c + 1]).toBeCloseTo(offset[1] - scale[0] * u, 4)
    }
  })

  it('does without one that is no picture, and holds places that are no numbers to the picture', async () => {
    const document = await new WebIO().readBinary(await picturedBox(BOX))
    const uv = document.getRoot().listMeshes()[0].listPrimitives()[0].getAttribute('TEXCOORD_0')
    uv?.setElement(0, [Number.NaN, 1e30])
    const solid = await bring(await new WebIO().writeBinary(document))
    for (const v of solid.attributes.pictureUv ?? []) expect(Math.abs(v)).toBeLessThan(10_000)
    document.getRoot().listTextures()[0].setImage(PNG.slice(0, 40))
    const plain = await bring(await new WebIO().writeBinary(document))
    expect(plain.attributes.pictureUv).toBeUndefined()
    expect(surfacesOf(plain).surfaces[0].material.picture).toBeUndefined()
  })
})
