import fc from 'fast-check'
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import { SaxesParser } from 'saxes'
import { beforeAll, describe, expect, it } from 'vitest'
import { assets, boxMesh, wordRoute } from '../../test/helpers'
import { checkMesh } from '../check/check'
import { evaluateRoute } from '../evaluate/route'
import { type Solid, surfacesOf, triangleCount } from '../solid/solid'
import { read3mf, write3mf } from './3mf'
import { FormatError, type MeshData } from './mesh-data'
import { readObj, writeObj, writeObjArchive } from './obj'
import { readPly, writePly } from './ply'

let solid: Solid

beforeAll(async () => {
  const rule = { letters: 'Q', material: { colour: '#123456', roughness: 0.3, metalness: 1, glow: 0.5 } }
  const route = [...wordRoute('Qä & Söhne', 'alfa-slab'), { id: 'dress-1', kind: 'dress', on: true, params: { rules: [rule] } }]
  solid = (await evaluateRoute(route, { assets })).value as Solid
})

const wrote: Record<string, () => MeshData> = {
  OBJ: () => readObj(writeObj(solid, 'Qä & Söhne', 'word.mtl').obj),
  PLY: () => readPly(writePly(solid)),
  '3MF': () => read3mf(write3mf(solid, 'Qä & <Söhne>')),
}

describe.each(Object.keys(wrote))('%s', (format) => {
  it('gives every triangle back bit for bit, in its order or its material’s', () => {
    const mesh = wrote[format]()
    expect(mesh.indices.length).toBe(solid.indices.length)
    const keyed = ({ positions, indices }: Pick<MeshData, 'positions' | 'indices'>) =>
      Array.from({ length: indices.length / 3 }, (_, t) =>
        [0, 1, 2].map((k) => positions.subarray(3 * indices[3 * t + k], 3 * indices[3 * t + k] + 3).join(' ')).join('|'),
      ).sort()
    expect(keyed(mesh)).toEqual(keyed(solid))
    const [was, is] = [checkMesh(solid), checkMesh(mesh)]
    expect(is).toMatchObject({ sound: true, triangles: was.triangles, size: was.size, parts: was.parts })
    expect(is.volume).toBeCloseTo(was.volume, 6)
  })
})

describe('OBJ', () => {
  it('names a material for every surface, that its MTL has', () => {
    const { obj, mtl } = writeObj(solid, 'word', 'word.mtl')
    const used = [...obj.matchAll(/^usemtl (\S+)$/gm)].map((m) => m[1])
    const has = [...mtl.matchAll(/^newmtl (\S+)$/gm)].map((m) => m[1])
    expect(used.length).toBe(surfacesOf(solid).surfaces.length)
    expect(new Set(used)).toEqual(new Set(has))
    expect(mtl).toContain(`Kd ${[0x12, 0x34, 0x56].map((c) => (c / 255).toFixed(4)).join(' ')}`)
    expect(mtl).toContain('Ke ')
    const files = unzipSync(writeObjArchive(solid, 'word'))
    expect(Object.keys(files).sort()).toEqual(['piece.mtl', 'piece.obj'])
    expect(strFromU8(files['piece.obj'])).toContain('mtllib piece.mtl')
  })

  it('is read with polygons, backward numbers and comments, and refused with the line', () => {
    const square = readObj('# a\nv 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nf -4/1/1 -3/2/1 -2//1 -1\n')
    expect([...square.indices]).toEqual([0, 1, 2, 0, 2, 3])
    expect(() => readObj('v 0 0 zero')).toThrow(/Line 1/)
    expect(() => readObj('v 0 0 0\nf 1 2 3')).toThrow(/Line 2/)
    expect(() => readObj('')).toThrow(FormatError)
  })
})

describe('PLY', () => {
  it('has a colour for every face, and reads ASCII and big endian too', () => {
    const bytes = writePly(solid)
    const head = new TextDecoder('latin1').decode(bytes.subarray(0, 600))
    expect(head).toContain(`element face ${triangleCount(solid)}`)
    const { surfaces, of } = surfacesOf(solid)
    const start = head.indexOf('end_header\n') + 11 + 12 * (solid.positions.length / 3)
    for (const t of [0, 17, of.length - 1]) {
      const rgb = Array.from(bytes.subarray(start + 16 * t + 13, start + 16 * t + 16), (c) => c.toString(16).padStart(2, '0')).join('')
      expect(`#${rgb}`).toBe(surfaces[of[t]].material.colour)
    }
    const ascii =
      'ply\nformat ascii 1.0\nelement vertex 4\nproperty double x\nproperty double y\nproperty double z\nelement face 1\nproperty list uchar int vertex_index\nend_header\n0 0 0\n1 0 0\n1 1 0\n0 1 0\n4 0 1 2 3\n'
    expect([...readPly(strToU8(ascii)).indices]).toEqual([0, 1, 2, 0, 2, 3])
    const header = strToU8(
      'ply\nformat binary_big_endian 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\nelement face 1\nproperty list uchar uint vertex_indices\nend_header\n',
    )
    const body = new DataView(new ArrayBuffer(36 + 13))
    ;[0, 0, 0, 5, 0, 0, 0, 7, 0].forEach((v, i) => body.setFloat32(4 * i, v))
    body.setUint8(36, 3)
    ;[0, 1, 2].forEach((v, i) => body.setUint32(37 + 4 * i, v))
    const big = readPly(Uint8Array.of(...header, ...new Uint8Array(body.buffer)))
    expect([...big.positions]).toEqual([0, 0, 0, 5, 0, 0, 0, 7, 0])
  })
})

describe('3MF', () => {
  it('is an open package: content types, a relationship to the model, well-formed XML in millimetres', () => {
    const files = unzipSync(write3mf(solid, 'Qä & <Söhne>'))
    expect(Object.keys(files).sort()).toEqual(['3D/3dmodel.model', '[Content_Types].xml', '_rels/.rels'])
    expect(strFromU8(files['_rels/.rels'])).toContain('Target="/3D/3dmodel.model"')
    const seen: Record<string, number> = {}
    let title = ''
    const parser = new SaxesParser({ xmlns: true })
    parser.on('opentag', ({ local, uri, attributes }) => {
      expect(uri).toBe('http://schemas.microsoft.com/3dmanufacturing/core/2015/02')
      seen[local] = (seen[local] ?? 0) + 1
      if (local === 'model') expect(attributes.unit.value).toBe('millimeter')
      if (local === 'object') title = attributes.name.value
    })
    parser.on('error', (error) => {
      throw error
    })
    parser.write(strFromU8(files['3D/3dmodel.model'])).close()
    expect(title).toBe('Qä & <Söhne>')
    expect(seen).toMatchObject({ vertex: solid.positions.length / 3, triangle: triangleCount(solid), base: surfacesOf(solid).surfaces.length, item: 1 })
    // the same solid gives the same file
    expect(write3mf(solid, 'a')).toEqual(write3mf(solid, 'a'))
  })

  it('reads other units, and refuses what is no package', () => {
    const { positions, indices } = boxMesh(0, 0, 0, 1, 2, 3)
    const vertices = Array.from({ length: 8 }, (_, i) => `<vertex x="${positions[3 * i]}" y="${positions[3 * i + 1]}" z="${positions[3 * i + 2]}"/>`).join('')
    const triangles = Array.from({ length: 12 }, (_, t) => `<triangle v1="${indices[3 * t]}" v2="${indices[3 * t + 1]}" v3="${indices[3 * t + 2]}"/>`).join('')
    const model = (body: string) =>
      zipSync({ '3D/m.model': strToU8(`<model unit="inch"><resources><object id="1"><mesh>${body}</mesh></object></resources></model>`) })
    expect(checkMesh(read3mf(model(`<vertices>${vertices}</vertices><triangles>${triangles}</triangles>`))).volume).toBeCloseTo(6 * 25.4 ** 3, 6)
    expect(() => read3mf(model('<vertices><vertex x="a" y="0" z="0"/></vertices>'))).toThrow(/number for “x”/)
    expect(() => read3mf(model(`<vertices>${vertices}</vertices><triangles><triangle v1="0" v2="1" v3="99"/></triangles>`))).toThrow(/not there/)
    expect(() => read3mf(model('<vertices>'))).toThrow(FormatError)
    expect(() => read3mf(zipSync({ 'readme.txt': strToU8('hello') }))).toThrow(/no model/)
    expect(() => read3mf(strToU8('PK not really'))).toThrow(/archive/)
  })
})

it('bears damage: triangles or a FormatError, never anything else', () => {
  const small = {
    ...solid,
    ...boxMesh(0, 0, 0, 10, 10, 10),
    group: new Uint8Array(12),
    letter: new Uint16Array(12),
    layer: new Uint16Array(12),
    part: new Uint16Array(12),
    normals: new Float32Array(108),
    uvs: new Float32Array(72),
  }
  const originals = [strToU8(writeObj(small, 'box', 'box.mtl').obj), writePly(small), write3mf(small, 'box')]
  const readers = [(b: Uint8Array) => readObj(strFromU8(b)), readPly, read3mf]
  fc.assert(
    fc.property(fc.nat(2), fc.array(fc.tuple(fc.nat(), fc.nat(255)), { minLength: 1, maxLength: 12 }), fc.option(fc.nat()), (which, changes, cut) => {
      let bytes = originals[which].slice()
      for (const [at, value] of changes) bytes[at % bytes.length] = value
      if (cut !== null) bytes = bytes.subarray(0, cut % bytes.length)
      try {
        expect(readers[which](bytes).indices.length).toBeGreaterThan(0)
      } catch (error) {
        if (!(error instanceof FormatError)) throw error
      }
    }),
    { numRuns: 1500 },
  )
})
