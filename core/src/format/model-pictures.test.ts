import { WebIO } from '@gltf-transform/core'
import { ALL_EXTENSIONS, KHRTextureTransform } from '@gltf-transform/extensions'
import { strToU8, unzipSync, zipSync } from 'fflate'
import validator from 'gltf-validator'
import { beforeAll, describe, expect, it } from 'vitest'
import { boxSolid } from '../../test/helpers'
import { BOX, picturedBox, placeOf, PNG } from '../../test/pictured'
import { Memo } from '../cache/memo'
import { hashBytes } from '../cache/hash'
import { evaluateRoute } from '../evaluate/route'
import { joinSolid } from '../join/join'
import { materialKey } from '../look/material'
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
import { readObjArchive, writeObjArchive } from './obj'

beforeAll(async () => void (await loadManifold()))

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
    const { issues } = await validator.validateBytes(glb)
    expect([issues.numErrors, issues.numWarnings, issues.messages]).toEqual([0, 0, []])
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

  it('comes in with it as OBJ, its MTL and its picture in one archive, as it went out', async () => {
    const solid = await bring(await picturedBox(BOX, [0.5, 1, 1]))
    const again = await bring(writeObjArchive(solid, 'box'))
    expect(misplaced(again)).toBe(0)
    const [was, is] = [solid, again].map((one) => surfacesOf(one).surfaces[0].material)
    expect(is.picture).toEqual(was.picture)
    expect(is.colour).toBe(was.colour)
  })

  it('takes the pictures that an MTL names by paths and with options, and does without those that are not there', async () => {
    const places = 'vt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\n'
    const obj = `v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\n${places}usemtl lid\nf 1/1 2/2/1 3/3 4/-1\nusemtl bare\nf 1/1 2/2 3/3\nf 1 2 3\nf 1/9 2/0 3/x\n`
    const mtl = (map: string) => `newmtl lid\nKd 0 0 0\nmap_Kd ${map}\nnewmtl bare\nKd 1 0 0\n`
    const read = (map: string, files: Record<string, Uint8Array>) =>
      readObjArchive(zipSync({ 'a/box.obj': strToU8(obj), 'a/box.mtl': strToU8(mtl(map)), ...files }))
    for (const map of ['lid.png', 'C:\\work\\Lid.PNG', '-s 1 1 1 -clamp on textures/lid.png', '-bm 0.5 lid.png']) {
      const { pictureUv, surfaces, surface } = await read(map, { 'a/maps/LID.png': PNG })
      // black in front of a picture means nothing
      expect(surfaces?.[0].look?.material.picture, map).toMatchObject({ tint: '#ffffff', type: 'image/png' })
      expect(surfaces?.[1].look?.material.picture).toBeUndefined()
      expect([...(surface ?? [])]).toEqual([0, 0, 1, 1, 1])
      expect([...(pictureUv ?? [])].slice(0, 12)).toEqual([0, 1, 1, 1, 1, 0, 0, 1, 1, 0, 0, 0])
    }
    for (const files of [{}, { 'other.png': PNG }, { 'lid.png': PNG.slice(0, 30) }, { 'lid.png': strToU8('<svg/>') }] as Record<string, Uint8Array>[]) {
      const { pictureUv, surfaces } = await read('lid.png', files)
      expect([pictureUv, surfaces?.[0].look?.material]).toEqual([undefined, { colour: '#000000', roughness: 0.6, metalness: 0 }])
    }
    // places that are not there, or no numbers, are the beginning of the picture
    const odd = await readObjArchive(
      zipSync({
        'a.obj': strToU8('v 0 0 0\nv 1 0 0\nv 1 1 0\nvt nan 1e99\nvt 0.5 0.5\nusemtl lid\nf 1/1 2/7 3\n'),
        'a.mtl': strToU8(mtl('lid.png')),
        'lid.png': PNG,
      }),
    )
    for (const v of odd.pictureUv ?? [Number.NaN]) expect(Math.abs(v)).toBeLessThan(10_000)
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

  it('keeps what lies beyond the picture, through GLB out and in', async () => {
    const document = await new WebIO().readBinary(await picturedBox(BOX))
    const infoOf = (of: typeof document) => of.getRoot().listMaterials()[0].getBaseColorTextureInfo()
    infoOf(document)?.setWrapS(33071).setWrapT(33648)
    const solid = await bring(await new WebIO().writeBinary(document))
    const [{ material }] = surfacesOf(solid).surfaces
    expect(material.picture?.beyond).toEqual(['border', 'mirrored'])
    expect(materialKey(material)).not.toBe(materialKey(surfacesOf(await bring(await picturedBox(BOX))).surfaces[0].material))
    const glb = await writeGlb(solid, 'box')
    const written = infoOf(await new WebIO().readBinary(glb))
    expect([written?.getWrapS(), written?.getWrapT()]).toEqual([33071, 33648])
    expect(surfacesOf(await bring(glb)).surfaces[0].material).toEqual(material)
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
