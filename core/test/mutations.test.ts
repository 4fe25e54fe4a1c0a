import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { read3mf, write3mf } from '../src/format/3mf'
import { WebIO } from '@gltf-transform/core'
import { writeGlb } from '../src/format/glb'
import { readGltf } from '../src/format/gltf'
import { FormatError, type MeshData } from '../src/format/mesh-data'
import { readObj, writeObj } from '../src/format/obj'
import { type Picture, readPicture } from '../src/format/picture'
import { readPly, writePly } from '../src/format/ply'
import { readProjectFile, writeProjectFile } from '../src/format/project-file'
import { readStl, writeStl } from '../src/format/stl'
import { evaluateRoute } from '../src/evaluate/route'
import { newProject } from '../src/project/new-project'
import type { Solid } from '../src/solid/solid'
import { readDrawing } from '../src/steps/source/vector-file/make'
import { assets, fontBytes, FULL, shippedFace, wordRoute } from './helpers'
import { pngChunk, pngOf, pngPixels } from './hostile-pictures'
import { within } from './within'

/**
 * Files that are whole in their outer form and wrong inside: random bytes are turned away at the first check, these get as far as the fields
 * themselves. Each is read, or refused with the reason; in no more than a few seconds.
 */
const RUNS = FULL ? 5000 : 150
const MOST_MS = 5000
const PATIENCE = 900_000

let solid: Solid
beforeAll(async () => {
  const { value } = await evaluateRoute(wordRoute('Qé', 'archivo-bold'), { assets })
  if (value?.kind !== 'solid') throw new Error('no solid')
  solid = value
})

const NUMBERS = [
  '0',
  '-1',
  '1e308',
  '-1e308',
  '1e-320',
  'NaN',
  'Infinity',
  '4294967296',
  '9007199254740993',
  '',
  ' ',
  '0x10',
  '1,5',
  '٣',
  '1e999',
  '--1',
  '99999999999999999999',
]

/** One mutation: a place (as a share of all there are), and what is put there. */
const edits = fc.array(fc.record({ at: fc.nat(1_000_000), how: fc.nat(5), value: fc.constantFrom(...NUMBERS), byte: fc.nat(255) }), {
  minLength: 1,
  maxLength: 4,
})
type Edit = { at: number; how: number; value: string; byte: number }

/** Reads or refuses with the reason; anything else fails. */
async function survives(read: () => unknown, whole: (result: unknown) => void = () => {}): Promise<void> {
  await within(MOST_MS, async () => {
    try {
      whole(await read())
    } catch (error) {
      expect(error).toBeInstanceOf(FormatError)
      expect((error as FormatError).message.length).toBeGreaterThan(8)
      expect((error as FormatError).remedy.length).toBeGreaterThan(4)
    }
  })
}

const tried = async (work: (list: Edit[]) => Promise<void>) => fc.assert(fc.asyncProperty(edits, work), { numRuns: RUNS })

/** Words of a text that are numbers, exchanged, doubled or taken away. */
function inWords(text: string, list: readonly Edit[]): string {
  const parts = text.split(/([-+]?\d[\d.eE+-]*)/)
  const numbers = parts.map((_, i) => i).filter((i) => i % 2 === 1)
  for (const { at, how, value } of list) {
    const i = numbers[at % numbers.length]
    if (how === 0) parts[i] = ''
    else if (how === 1) parts[i] += ` ${parts[i]}`
    else parts[i] = value
  }
  return parts.join('')
}

/** Lines taken away, doubled, or moved. */
function inLines(text: string, list: readonly Edit[]): string {
  const lines = text.split('\n')
  for (const { at, how } of list) {
    const i = at % lines.length
    if (how < 2) lines.splice(i, 1)
    else if (how < 4) lines.splice(i, 0, lines[i])
    else lines.splice((i * 7) % lines.length, 0, ...lines.splice(i, 1))
  }
  return lines.join('\n')
}

/** Bytes changed, four at a time where a length may lie. */
function inBytes(bytes: Uint8Array, list: readonly Edit[], from = 0): Uint8Array {
  const out = bytes.slice()
  const view = new DataView(out.buffer)
  for (const { at, how, byte } of list) {
    const i = from + (at % Math.max(1, out.length - from - 4))
    if (how < 3) out[i] = byte
    else if (how === 3) view.setUint32(i, 0xffffffff)
    else if (how === 4) view.setUint32(i, byte, true)
    else return out.slice(0, i)
  }
  return out
}

const sound = (result: unknown) => {
  const { positions, indices } = result as MeshData
  expect(indices.length % 3).toBe(0)
  expect(indices.every((v) => 3 * v < positions.length)).toBe(true)
}

describe('files that are wrong inside', () => {
  it(
    'DXF: values, pairs and entities',
    async () => {
      const entity = (...pairs: (string | number)[]) => pairs.join('\n')
      const text = [
        entity(0, 'SECTION', 2, 'HEADER', 9, '$INSUNITS', 70, 4, 0, 'ENDSEC', 0, 'SECTION', 2, 'ENTITIES'),
        entity(0, 'LINE', 8, 'Wall', 10, 0, 20, 0, 11, 9, 21, 0),
        entity(0, 'ARC', 8, 'Wall', 10, 4, 20, 4, 40, 3, 50, 10, 51, 200, 230, -1),
        entity(0, 'ELLIPSE', 8, '0', 10, 0, 20, 0, 11, 9, 21, 1, 40, 0.4, 41, 0, 42, 6.283185307179586),
        entity(0, 'LWPOLYLINE', 8, 'Roof', 90, 3, 70, 1, 10, 0, 20, 0, 42, 0.5, 10, 9, 20, 0, 10, 9, 20, 9),
        entity(0, 'POLYLINE', 8, 'Roof', 70, 0, 0, 'VERTEX', 10, 1, 20, 2, 42, -1, 0, 'VERTEX', 10, 5, 20, 5, 0, 'SEQEND'),
        entity(
          0,
          'SPLINE',
          8,
          '0',
          70,
          8,
          71,
          3,
          ...[0, 0, 0, 0, 1, 2, 2, 2, 2].flatMap((u) => [40, u]),
          ...[0, 1, 3, 5, 6].flatMap((x) => [10, x, 20, x % 3]),
        ),
        entity(0, 'ENDSEC', 0, 'EOF', ''),
      ].join('\n')
      await tried((list) =>
        survives(
          () => readDrawing(strToU8(list[0].byte % 2 ? inWords(text, list) : inLines(text, list))),
          (result) => {
            const { outline } = result as { outline: { strokes: { coords: Float64Array }[] } }
            for (const { coords } of outline.strokes) expect(coords.every((v) => Number.isFinite(v))).toBe(true)
          },
        ),
      )
    },
    PATIENCE,
  )

  it(
    'SVG: numbers, attributes and elements',
    async () => {
      const text = `<svg xmlns="http://www.w3.org/2000/svg" width="40mm" height="30mm" viewBox="0 0 40 30"><style>.a{fill:#123;stroke-width:2}
 g > .b{fill:none;stroke:red;stroke-dasharray:3 1}</style><clipPath id="c"><circle cx="9" cy="9" r="8"/></clipPath>
<g transform="rotate(30 5 5) scale(1.5,2)"><path class="a" fill-rule="evenodd" d="M0 0C3 9 9 3 12 0S20 5 9 20A5 4 30 1 0 3 3ZM4 4h3v3h-3z"/>
<polyline class="b" points="1,2 9,14 20,3" stroke-linejoin="round"/></g><use href="#q" x="3"/><rect id="q" x="1" y="1" width="9" height="7" rx="2"/>
<g clip-path="url(#c)"><ellipse cx="9" cy="8" rx="7" ry="3"/><line x1="0" y1="0" x2="30" y2="20" stroke="#000" stroke-linecap="square"/></g></svg>`
      await tried((list) =>
        survives(
          () => readDrawing(strToU8(list[0].byte % 3 ? inWords(text, list) : inLines(text, list))),
          (result) => {
            const { outline } = result as { outline: { regions: { members: { paths: { coords: Float64Array }[] }[] }[] } }
            for (const { members } of outline.regions)
              for (const { paths } of members) for (const { coords } of paths) expect(coords.every((v) => Number.isFinite(v))).toBe(true)
          },
        ),
      )
    },
    PATIENCE,
  )

  it(
    'PNG: headers, chunks whose checks are right, and packed data',
    async () => {
      const noWebp = (): Promise<Picture> => Promise.reject(new Error('none'))
      await tried((list) => {
        const [{ at, how, byte }] = list
        const header = { width: 1 + (at % 40), height: 1 + (byte % 30), depth: [1, 2, 4, 8, 16, byte][how], colour: at % 7, interlace: byte % 2 }
        const palette = pngChunk('PLTE', new Uint8Array(3 * (byte % 20)).fill(byte))
        const clear = pngChunk('tRNS', new Uint8Array(at % 24).fill(at))
        const rows = new Uint8Array((at * 31) % 9000).fill(byte)
        const pixels = how === 0 ? pngChunk('IDAT', inBytes(pngPixels(rows).subarray(8), list)) : pngPixels(rows)
        const chunks = [palette, clear, pixels, pngChunk('iCCP', rows.subarray(0, 90)), pngChunk('zTXt', rows)]
        const order = byte % 3 === 0 ? chunks.toReversed() : chunks
        const whole = pngOf(header, ...order.slice(0, 1 + (at % 5)))
        return survives(
          () => readPicture(byte % 5 === 0 ? inBytes(whole, list, 8) : whole, noWebp),
          (result) => {
            const { width, height, rgba } = result as Picture
            expect(rgba.length).toBe(4 * width * height)
          },
        )
      })
    },
    PATIENCE,
  )

  it(
    '3MF: the model’s XML, and the archive about it',
    async () => {
      const parts = unzipSync(write3mf(solid, 'word'))
      const model = Object.keys(parts).find((name) => name.endsWith('.model')) as string
      // a tenth of it is enough to be wrong in
      const xml = strFromU8(parts[model])
      await tried((list) => {
        const changed = list[0].byte % 3 === 0 ? inLines(xml, list) : inWords(xml.slice(0, 4000), list) + xml.slice(4000)
        const archive = zipSync({ ...parts, [model]: strToU8(changed) }, { level: 1 })
        return survives(() => read3mf(list[0].byte % 5 === 0 ? inBytes(archive, list) : archive), sound)
      })
    },
    PATIENCE,
  )

  it(
    'project files: the document, the directory, and what the parts are called',
    async () => {
      const face = shippedFace('knewave')
      const document = newProject('Tern Quay')
      document.assets.push({ sha256: face.sha256, name: face.name, type: 'font', bytes: fontBytes(face).length })
      const file = await writeProjectFile(document, new Map([[face.sha256, fontBytes(face)]]))
      const parts = unzipSync(file)
      const json = strFromU8(parts['project.json'])
      // the directory begins where its end says
      const directory = new DataView(file.buffer, file.byteOffset + file.length - 22).getUint32(16, true)
      await tried(async (list) => {
        const bytes =
          list[0].byte % 3 === 0
            ? inBytes(file, list, directory)
            : zipSync({ ...parts, 'project.json': strToU8(list[0].byte % 3 === 1 ? inWords(json, list) : inLines(json, list)) }, { level: 1 })
        const result = await within(MOST_MS, () => readProjectFile(bytes))
        if (!result.ok) expect(result.problem.remedy.length).toBeGreaterThan(4)
      })
    },
    PATIENCE,
  )

  it(
    'models: STL, PLY, OBJ with its MTL, and GLB',
    async () => {
      const [stl, ply, glb] = [writeStl(solid), writePly(solid), await writeGlb(solid, 'word')]
      const { obj, mtl } = writeObj(solid, 'word', 'word.mtl')
      const short = obj
        .split('\n')
        .filter((line, i) => i % 9 === 0 || line.startsWith('f'))
        .slice(0, 900)
        .join('\n')
      await tried(async (list) => {
        await survives(() => readStl(inBytes(stl, list, 70)), sound)
        await survives(() => readPly(inBytes(ply, list)), sound)
        await survives(() => readObj(list[0].byte % 2 ? inWords(short, list) : inLines(short, list), inWords(mtl, list)), sound)
        await survives(() => readGltf(inBytes(glb, list)), sound)
      })
    },
    PATIENCE,
  )

  it(
    'glTF as JSON: every number of it, its lists and places',
    async () => {
      const json = await gltfJson(solid)
      await tried((list) => survives(() => readGltf(strToU8(inWords(json, list))), sound))
    },
    PATIENCE,
  )

  it(
    '3MF with components: numbers and lines of its model, in a whole archive',
    async () => {
      const model = componentsOf(solid)
      await tried((list) =>
        survives(() => read3mf(zipSync({ '3D/3dmodel.model': strToU8(list[0].byte % 2 ? inWords(model, list) : inLines(model, list)) }, { level: 1 })), sound),
      )
    },
    PATIENCE,
  )
})

/** A glTF of the first triangles with all its data within. */
async function gltfJson(of: Solid): Promise<string> {
  const io = new WebIO()
  const { json, resources } = await io.writeJSON(await io.readBinary(await writeGlb(of, 'word')), { basename: 'word' })
  for (const buffer of json.buffers ?? [])
    buffer.uri = `data:application/octet-stream;base64,${Buffer.from(resources[buffer.uri as string]).toString('base64')}`
  return JSON.stringify(json)
}

/** A 3MF model of an object that is placed twice, once within another. */
function componentsOf(of: Solid): string {
  const lines: string[] = ['<model unit="millimeter"><resources><basematerials id="7"><base name="Red" displaycolor="#C01020"/></basematerials>']
  lines.push('<object id="1" name="Part" pid="7" pindex="0"><mesh><vertices>')
  for (let i = 0; i < 300; i += 3) lines.push(`<vertex x="${of.positions[i]}" y="${of.positions[i + 1]}" z="${of.positions[i + 2]}"/>`)
  lines.push('</vertices><triangles>')
  for (let t = 0; t < 60; t++) lines.push(`<triangle v1="${t}" v2="${t + 1}" v3="${(t * 7) % 99}" p1="0"/>`)
  lines.push('</triangles></mesh></object>')
  lines.push('<object id="2"><components><component objectid="1" transform="1 0 0 0 1 0 0 0 1 5 0 0"/><component objectid="1"/></components></object>')
  lines.push('</resources><build><item objectid="2" transform="0 1 0 -1 0 0 0 0 1 0 9 0"/><item objectid="1"/></build></model>')
  return lines.join('\n')
}
