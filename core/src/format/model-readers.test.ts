import { Document, WebIO } from '@gltf-transform/core'
import { ALL_EXTENSIONS, EXTMeshGPUInstancing } from '@gltf-transform/extensions'
import { draco, meshopt, quantize } from '@gltf-transform/functions'
import draco3d from 'draco3d'
import { encode } from 'fast-png'
import { strToU8, zipSync } from 'fflate'
import { MeshoptDecoder, MeshoptEncoder } from 'meshoptimizer'
import { beforeAll, describe, expect, it } from 'vitest'
import { boxMesh } from '../../test/helpers'
import { packedAlike } from '../../test/packed'
import { checkMesh } from '../check/check'
import { turnedRing } from '../solid/revolve'
import { solidFromTriangles } from '../solid/from-triangles'
import { surfacesOf } from '../solid/solid'
import { read3mf } from './3mf'
import { readGltf } from './gltf'
import { FormatError, type MeshData } from './mesh-data'
import { modelKind, readModel } from './model'
import { readObj, readObjArchive } from './obj'
import { readPly } from './ply'
import { readStl, writeStl } from './stl'
import { within } from '../../test/within'

const ring = turnedRing(25, 9, 48, 24, 2 ** -14)
const box = boxMesh(0, 0, 0, 10, 20, 30)
const measures = (mesh: MeshData) => checkMesh(solidFromTriangles(mesh))
/** Triangles by what they are part of and coloured as. */
const counted = ({ surface, surfaces }: MeshData) => {
  const counts: Record<string, number> = {}
  for (const s of surface ?? []) {
    const { part, look } = surfaces?.[s] ?? { part: '?' }
    const key = `${part} ${look?.material.colour ?? 'plain'}`
    counts[key] = (counts[key] ?? 0) + 1
  }
  return counts
}

describe('glTF by an independent writer', () => {
  let io: WebIO
  beforeAll(async () => {
    await Promise.all([MeshoptDecoder.ready, MeshoptEncoder.ready])
    io = new WebIO().registerExtensions(ALL_EXTENSIONS).registerDependencies({
      'draco3d.decoder': await draco3d.createDecoderModule(),
      'draco3d.encoder': await draco3d.createEncoderModule(),
      'meshopt.decoder': MeshoptDecoder,
      'meshopt.encoder': MeshoptEncoder,
    })
  })

  /** The ring in metres, in a red material, as a document of its own. */
  function ringDocument(): Document {
    const document = new Document()
    const buffer = document.createBuffer()
    const primitive = document
      .createPrimitive()
      .setMaterial(document.createMaterial('Rust').setBaseColorFactor([1, 0, 0, 1]).setRoughnessFactor(0.7).setMetallicFactor(0.2))
      .setIndices(document.createAccessor().setType('SCALAR').setArray(ring.indices.slice()).setBuffer(buffer))
      .setAttribute(
        'POSITION',
        document
          .createAccessor()
          .setType('VEC3')
          .setArray(Float32Array.from(ring.positions, (v) => v / 1000))
          .setBuffer(buffer),
      )
    const node = document.createNode('Quoit').setMesh(document.createMesh('mesh').addPrimitive(primitive))
    document.getRoot().setDefaultScene(document.createScene().addChild(node))
    return document
  }
  const want = checkMesh(ring)
  const near = (mesh: MeshData, share: number) => {
    const read = measures(mesh)
    expect(read.triangles).toBe(want.triangles)
    expect(Math.abs(read.volume / want.volume - 1)).toBeLessThan(share)
    for (const k of [0, 1, 2]) expect(Math.abs(read.size[k] / want.size[k] - 1)).toBeLessThan(share)
  }

  it('plain, quantised, packed by meshopt and by Draco: the same triangles, volume and size', async () => {
    near(await readGltf(await io.writeBinary(ringDocument())), 1e-5)
    const quantised = ringDocument()
    await quantised.transform(quantize({ quantizePosition: 14 }))
    near(await readGltf(await io.writeBinary(quantised)), 2e-3)
    const packed = ringDocument()
    await packed.transform(meshopt({ encoder: MeshoptEncoder, level: 'medium' }))
    near(await readGltf(await io.writeBinary(packed)), 2e-3)
    const small = ringDocument()
    await small.transform(draco({ quantizePosition: 14 }))
    const bytes = await io.writeBinary(small)
    expect(new TextDecoder('latin1').decode(bytes)).toContain('KHR_draco_mesh_compression')
    near(await readGltf(bytes), 2e-3)
    for (const document of [quantised, packed, small])
      expect(counted(await readGltf(await io.writeBinary(document)))).toEqual({ 'Quoit #ff0000': want.triangles })
  })

  it('as JSON with its data within, and placed by nested nodes, one of them mirrored', async () => {
    const document = ringDocument()
    const [node] = document.getRoot().listNodes()
    document
      .getRoot()
      .getDefaultScene()
      ?.addChild(document.createNode('up').setTranslation([0, 0.5, 0]).setScale([-1, 2, 1]).addChild(node))
    const { json, resources } = await io.writeJSON(document, { basename: 'ring' })
    for (const buffer of json.buffers ?? [])
      buffer.uri = `data:application/octet-stream;base64,${Buffer.from(resources[buffer.uri as string]).toString('base64')}`
    const bytes = strToU8(JSON.stringify(json))
    expect(modelKind(bytes)).toBe('gltf')
    const read = measures(await readGltf(bytes))
    expect(read.sound).toBe(true)
    expect(read.volume / want.volume).toBeCloseTo(2, 4)
    expect(read.size[1] / want.size[1]).toBeCloseTo(2, 4)
  })

  it('in instances: each at its place, turned and sized', async () => {
    const document = ringDocument()
    const buffer = document.getRoot().listBuffers()[0]
    const list = (type: 'VEC3' | 'VEC4', values: number[]) => document.createAccessor().setType(type).setArray(Float32Array.from(values)).setBuffer(buffer)
    const instances = document
      .createExtension(EXTMeshGPUInstancing)
      .createInstancedMesh()
      .setAttribute('TRANSLATION', list('VEC3', [0, 0, 0, 0.2, 0, 0, 0, 0.3, 0]))
      .setAttribute('ROTATION', list('VEC4', [0, 0, 0, 1, Math.SQRT1_2, 0, 0, Math.SQRT1_2, 0, 0, 0, 1]))
      .setAttribute('SCALE', list('VEC3', [1, 1, 1, 1, 1, 1, 0.5, 0.5, 0.5]))
    document.getRoot().listNodes()[0].setExtension('EXT_mesh_gpu_instancing', instances)
    const read = measures(await readGltf(await io.writeBinary(document)))
    expect(read.parts).toBe(3)
    expect(read.triangles).toBe(3 * want.triangles)
    expect(read.volume / want.volume).toBeCloseTo(2.125, 3)
  })

  it('with colours of its own: triangles take the colour at their middle, times what their picture has there', async () => {
    const document = new Document()
    const buffer = document.createBuffer()
    // the left half green, the right half blue
    const data = Uint8Array.from({ length: 4 * 4 * 2 }, (_, i) => ((i >> 2) % 4 < 2 ? [0, 255, 0, 255] : [0, 0, 255, 255])[i % 4])
    const texture = document
      .createTexture()
      .setMimeType('image/png')
      .setImage(encode({ width: 4, height: 2, data, channels: 4 }))
    const floats = (type: 'VEC2' | 'VEC3', ...values: number[]) => document.createAccessor().setType(type).setArray(Float32Array.from(values)).setBuffer(buffer)
    const places = [0, 0, 0, 1, 0, 0, 0, 1, 0, 5, 0, 0, 6, 0, 0, 5, 1, 0]
    const pictured = document
      .createPrimitive()
      .setMaterial(document.createMaterial('Tile').setBaseColorTexture(texture))
      .setAttribute('POSITION', floats('VEC3', ...places))
      .setAttribute('COLOR_0', floats('VEC3', ...new Array(18).fill(1)))
      .setAttribute('TEXCOORD_0', floats('VEC2', 0.1, 0.5, 0.2, 0.5, 0.1, 0.6, 0.8, 0.5, 0.9, 0.5, 0.8, 0.6))
    const tinted = document
      .createPrimitive()
      .setAttribute('POSITION', floats('VEC3', ...places.map((v, i) => (i % 3 === 2 ? 9 : v))))
      .setAttribute('COLOR_0', floats('VEC3', ...new Array(9).fill(0).map((_, i) => (i % 3 === 0 ? 1 : 0)), ...new Array(9).fill(1)))
    const mesh = document.createMesh('tile').addPrimitive(pictured).addPrimitive(tinted)
    document.getRoot().setDefaultScene(document.createScene().addChild(document.createNode().setMesh(mesh)))
    const counts = counted(await readGltf(await io.writeBinary(document)))
    expect(counts).toMatchObject({ 'tile #00ff00': 1, 'tile #0000ff': 1 })
    // by their own colours, in front of plain clay
    expect(Object.keys(counts)).toHaveLength(4)
  })

  it('is refused with the reason where it keeps parts elsewhere, announces too much, or names what is not there', async () => {
    const { json, resources } = await io.writeJSON(ringDocument(), { basename: 'ring' })
    const refused = async (change: (file: typeof json) => void) => {
      const file = structuredClone(json)
      for (const buffer of file.buffers ?? [])
        buffer.uri = `data:application/octet-stream;base64,${Buffer.from(resources[buffer.uri as string]).toString('base64')}`
      change(file)
      const error: unknown = await readGltf(strToU8(JSON.stringify(file))).then(
        () => 'read',
        (why: unknown) => why,
      )
      expect(error).toBeInstanceOf(FormatError)
      return (error as FormatError).message
    }
    expect(await refused((file) => Object.assign(file.buffers?.[0] ?? {}, { uri: 'https://elsewhere.example/ring.bin' }))).toMatch(/not fetched/)
    expect(await refused((file) => Object.assign(file.buffers?.[0] ?? {}, { uri: '../../ring.bin' }))).toMatch(/not fetched/)
    expect(await refused((file) => Object.assign(file, { images: [{ uri: 'file:///etc/hostname' }] }))).toMatch(/not fetched/)
    expect(await refused((file) => Object.assign(file.accessors?.[0] ?? {}, { count: 1e9, bufferView: undefined }))).toMatch(/more than a model/)
    expect(await refused((file) => Object.assign(file.accessors?.[0] ?? {}, { count: -3 }))).toMatch(/no whole number/)
    expect(await refused((file) => Object.assign(file.bufferViews?.[0] ?? {}, { byteLength: 1e12 }))).toMatch(/more than a model|cannot be read/)
    expect(await refused((file) => Object.assign(file, { extensionsRequired: ['X_unheard_of'], extensionsUsed: ['X_unheard_of'] }))).toMatch(/X_unheard_of/)
    expect(await refused((file) => Object.assign(file, { scenes: [] }))).toMatch(/glTF/)
  })
})

describe('3MF', () => {
  const meshXml = (mesh: { positions: ArrayLike<number>; indices: ArrayLike<number> }, more = (_: number) => '') => {
    const { positions: p, indices } = mesh
    const vertices = Array.from({ length: p.length / 3 }, (_, i) => `<vertex x="${p[3 * i]}" y="${p[3 * i + 1]}" z="${p[3 * i + 2]}"/>`)
    const triangles = Array.from(
      { length: indices.length / 3 },
      (_, t) => `<triangle v1="${indices[3 * t]}" v2="${indices[3 * t + 1]}" v3="${indices[3 * t + 2]}"${more(t)}/>`,
    )
    return `<mesh><vertices>${vertices.join('')}</vertices><triangles>${triangles.join('')}</triangles></mesh>`
  }
  const file = (model: string, others: Record<string, string> = {}) =>
    zipSync(Object.fromEntries(Object.entries({ '3D/3dmodel.model': model, ...others }).map(([name, text]) => [name, strToU8(text)])))

  it('is what its build places, with components, transforms and colours; parts by their names', () => {
    const model = `<model unit="centimeter" xmlns:m="http://schemas.microsoft.com/3dmanufacturing/material/2015/02"><resources>
      <basematerials id="5"><base name="Oak" displaycolor="#B08A58FF"/><base name="Tar" displaycolor="#101010"/></basematerials>
      <m:colorgroup id="6"><m:color color="#00FF00FF"/></m:colorgroup>
      <object id="1" name="Crate" pid="5" pindex="0">${meshXml(box, (t) => (t === 0 ? ' p1="1"' : t === 1 ? ' pid="6" p1="0"' : ''))}</object>
      <object id="2" name="Stack"><components><component objectid="1"/><component objectid="1" transform="1 0 0 0 1 0 0 0 1 0 25 0"/></components></object>
      <object id="9" name="Unused">${meshXml(ring)}</object></resources>
      <build><item objectid="2" transform="-1 0 0 0 1 0 0 0 1 100 0 0"/><item objectid="1" transform="2 0 0 0 2 0 0 0 2 -50 0 0"/></build></model>`
    const mesh = read3mf(file(model))
    expect(counted(mesh)).toEqual({ 'Crate #b08a58': 30, 'Crate #101010': 3, 'Crate #00ff00': 3 })
    const read = measures(mesh)
    expect(read).toMatchObject({ sound: true, parts: 3 })
    // two, one beside the other and mirrored, and one of twice the size; centimetres
    expect(read.volume).toBeCloseTo(1000 * 6000 * (2 + 8), 3)
    expect(read.size[0]).toBeCloseTo(10 * 150, 6)
  })

  it('is put together from several parts of its archive', () => {
    const root =
      '<model xmlns:p="http://schemas.microsoft.com/3dmanufacturing/production/2015/06"><resources><object id="1"><components><component objectid="4" p:path="/3D/Objects/one.model"/></components></object></resources><build><item objectid="1"/><item objectid="4" p:path="/3D/Objects/one.model" transform="1 0 0 0 1 0 0 0 1 900 0 0"/></build></model>'
    const other = `<model unit="inch"><resources><object id="4" name="Far">${meshXml(box)}</object></resources></model>`
    const read = measures(read3mf(file(root, { '3D/Objects/one.model': other })))
    expect(read).toMatchObject({ sound: true, triangles: 24, parts: 2 })
  })

  it('is refused where objects hold themselves, multiply without end, or are not there', async () => {
    const of = (objects: string, build = '<item objectid="1"/>') => file(`<model><resources>${objects}</resources><build>${build}</build></model>`)
    const components = (id: number, ...ids: number[]) =>
      `<object id="${id}"><components>${ids.map((i) => `<component objectid="${i}"/>`).join('')}</components></object>`
    expect(() => read3mf(of(components(1, 2) + components(2, 1)))).toThrow(/holds itself/)
    expect(() => read3mf(of(components(1, 7)))).toThrow(/not there/)
    const ten = (id: number) => new Array<number>(10).fill(id)
    const laughs = Array.from({ length: 9 }, (_, i) => components(i + 1, ...ten(i + 2))).join('')
    await within(5000, () => {
      expect(() => read3mf(of(`${laughs}<object id="10"><mesh><vertices/><triangles/></mesh></object>`))).toThrow(/places more than/)
      expect(() => read3mf(of(`${laughs}<object id="10">${meshXml(box)}</object>`))).toThrow(FormatError)
    })
    expect(() => read3mf(of(components(1, 2), '<item objectid="1" transform="1 0 0"/>'))).toThrow(/twelve numbers/)
    expect(() => read3mf(file('<model unit="furlong"/>'))).toThrow(/furlong/)
  })

  it('bears a bomb: half a gigabyte of blanks in a small archive', () => {
    const blanks = new Uint8Array(64 * 1024 * 1024).fill(32)
    const seven = Array.from({ length: 7 }, (_, i) => `3D/${i}.model`)
    const bomb = packedAlike(seven, blanks)
    expect(bomb.length).toBeLessThan(6_000_000)
    expect(() => read3mf(bomb)).toThrow(/larger than 400 MB/)
  }, 60_000)
})

describe('STL', () => {
  it('keeps the colours of its spare words, in both ways they are written', () => {
    const bytes = writeStl(box)
    const view = new DataView(bytes.buffer)
    const plain = readStl(bytes)
    expect(plain.surfaces).toBeUndefined()
    for (let t = 0; t < 12; t++) view.setUint16(84 + 50 * t + 48, t < 5 ? 0x8000 | (31 << 10) : t < 8 ? 0x8000 | 31 : 0, true)
    expect(counted(readStl(bytes))).toEqual({ ' #ff0000': 5, ' #0000ff': 3, ' plain': 4 })
    // the other way round, with the header's colour for those that have none
    bytes.set(strToU8('COLOR='), 10)
    bytes.set([0, 128, 0, 255], 16)
    for (let t = 0; t < 12; t++) view.setUint16(84 + 50 * t + 48, t < 5 ? 31 : 0x8000, true)
    expect(counted(readStl(bytes))).toEqual({ ' #ff0000': 5, ' #008000': 7 })
  })

  it('refuses more triangles than it reads before it reads them', () => {
    const bytes = new Uint8Array(84)
    new DataView(bytes.buffer).setUint32(80, 1_000_000_000, true)
    expect(() => readStl(bytes)).toThrow(/announces 1,000,000,000 triangles/)
  })
})

describe('OBJ', () => {
  const obj = 'mtllib a.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nv 0 0 1\no Lid\nusemtl Gold leaf\nf 1 3 2\nf 1 2 4\ng side\nusemtl none\nf 2 3 4\no Base\nf 1 4 3\n'
  const mtl = 'newmtl Gold leaf\nKd 0.8 0.6 0.2\nPr 0.25\nPm 1\nKe 0.4 0.3 0.1\nnewmtl other\nKd 1 0 0\n'

  it('has parts and the materials of its MTL; without one the names lead nowhere', () => {
    const mesh = readObj(obj, mtl)
    expect(counted(mesh)).toEqual({ 'Lid #cc9933': 2, 'Lid plain': 1, 'Base plain': 1 })
    expect(mesh.surfaces?.[0].look).toEqual({ name: 'Gold leaf', material: { colour: '#cc9933', roughness: 0.25, metalness: 1, glow: 0.5 } })
    expect(counted(readObj(obj))).toEqual({ 'Lid plain': 3, 'Base plain': 1 })
  })

  it('comes in one archive with its MTL', async () => {
    const bytes = zipSync({ 'box/a.mtl': strToU8(mtl), 'box/a.obj': strToU8(obj) })
    expect(modelKind(bytes)).toBe('obj')
    expect((await readModel(bytes)).format).toBe('obj')
    expect(counted(await readObjArchive(bytes))['Lid #cc9933']).toBe(2)
    await expect(readObjArchive(zipSync({ 'a.mtl': strToU8(mtl) }))).rejects.toThrow(/no model/)
  })

  it('becomes a solid of layers and looks that files are written from', () => {
    const solid = solidFromTriangles(readObj(obj, mtl))
    expect(solid.layers.map(({ name }) => name)).toEqual(['Lid', 'Base'])
    expect(surfacesOf(solid).surfaces.map(({ material }) => material.colour)).toContain('#cc9933')
  })
})

describe('PLY', () => {
  it('keeps the colours of faces, or the mean of its vertices’', () => {
    const head = (element: string) =>
      `ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\n${element}element face 1\nproperty list uchar int vertex_indices\n`
    const vertex = 'property uchar red\nproperty uchar green\nproperty uchar blue\n'
    const byVertex = `${head(vertex)}end_header\n0 0 0 255 0 0\n1 0 0 0 255 0\n0 1 0 0 0 255\n3 0 1 2\n`
    expect(counted(readPly(strToU8(byVertex)))).toEqual({ ' #555555': 1 })
    const byFace = `${head('')}property float red\nproperty float green\nproperty float blue\nend_header\n0 0 0\n1 0 0\n0 1 0\n3 0 1 2 1 0.5 0\n`
    expect(counted(readPly(strToU8(byFace)))).toEqual({ ' #ff8000': 1 })
  })

  it('brings many colours down to as many as people tell apart', () => {
    const n = 4000
    const lines = Array.from({ length: n }, (_, i) => `${i} 0 0 ${i % 256} ${(i * 7) % 256} ${(i * 13) % 256}`)
    const faces = Array.from({ length: n - 2 }, (_, i) => `3 ${i} ${i + 1} ${i + 2}`)
    const text = `ply\nformat ascii 1.0\nelement vertex ${n}\nproperty float x\nproperty float y\nproperty float z\nproperty uchar red\nproperty uchar green\nproperty uchar blue\nelement face ${n - 2}\nproperty list uchar int vertex_indices\nend_header\n${lines.join('\n')}\n${faces.join('\n')}\n`
    const { surfaces } = readPly(strToU8(text))
    expect(surfaces?.length).toBeGreaterThan(8)
    expect(surfaces?.length).toBeLessThanOrEqual(96)
  })
})
