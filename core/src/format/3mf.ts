import { strFromU8, strToU8 } from 'fflate'
import { SaxesParser } from 'saxes'
import { type Look, UNDRESSED } from '../look/material'
import { type Assembly, inColour, shardNames } from '../solid/assembly'
import { NONE } from '../solid/labels'
import { type Solid, surfacesOf } from '../solid/solid'
import { archive, archiveParts } from './archive'
import { MeshBuilder, tooManyTriangles } from './mesh-builder'
import { FormatError, type MeshData, MOST_TRIANGLES } from './mesh-data'

const CORE = 'http://schemas.microsoft.com/3dmanufacturing/core/2015/02'
const MODEL = '3D/3dmodel.model'

const escaped = (text: string) => text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`)

/**
 * 3MF (3MF Core Specification 1.3): one object in millimetres, lying on its back with its face up, as the solid itself does, and a
 * base material for every surface. Positions are written exactly. Copies of an assembly are components: each unit's mesh stands in the file once, for every colour it
 * wears.
 */
export function write3mf(value: Solid | Assembly, name: string): Uint8Array {
  const parts = value.kind === 'solid' ? [{ solid: value, called: '', entries: [] }] : partsOf(value)
  const looks = parts.map(({ solid }) => surfacesOf(solid))
  const xml: string[] = [
    '<?xml version="1.0" encoding="UTF-8"?>',
    `<model unit="millimeter" xml:lang="en-GB" xmlns="${CORE}">`,
    `<metadata name="Title">${escaped(name)}</metadata><metadata name="Application">Kelvar</metadata>`,
    '<resources>',
    '<basematerials id="1">',
    ...looks.flatMap(({ surfaces }) => surfaces.map((s) => `<base name="${escaped(s.name)}" displaycolor="${s.material.colour.toUpperCase()}FF"/>`)),
    '</basematerials>',
  ]
  let first = 0
  parts.forEach(({ solid, called }, i) => {
    const { surfaces, of } = looks[i]
    pushMesh(xml, solid, of, first, i + 2, called || (parts.length > 1 ? `${name} ${i + 1}` : name))
    first += surfaces.length
  })
  const whole = value.kind === 'solid' ? 2 : parts.length + 2
  if (value.kind === 'assembly') {
    xml.push(`<object id="${whole}" type="model" name="${escaped(name)}"><components>`)
    const { matrix: m } = value.placements
    parts.forEach(({ entries }, i) => {
      for (const entry of entries) {
        const o = 12 * entry
        // its rows are our columns
        const transform = [0, 1, 2, 3].flatMap((k) => [m[o + k], m[o + 4 + k], m[o + 8 + k]])
        xml.push(`<component objectid="${i + 2}" transform="${transform.map((v) => Number(v.toPrecision(12)) + 0).join(' ')}"/>`)
      }
    })
    xml.push('</components></object>')
  }
  xml.push(`</resources><build><item objectid="${whole}"/></build></model>`)
  return archive({
    '[Content_Types].xml': strToU8(
      '<?xml version="1.0" encoding="UTF-8"?><Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>',
    ),
    '_rels/.rels': strToU8(
      `<?xml version="1.0" encoding="UTF-8"?><Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Target="/${MODEL}" Id="rel0" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>`,
    ),
    [MODEL]: strToU8(xml.join('\n')),
  })
}

/** The meshes of an assembly: its units in every colour they wear, each with the entries that are copies of it; shards have names of their own. */
function partsOf(assembly: Assembly): { readonly solid: Solid; readonly called: string; readonly entries: number[] }[] {
  const { units, placements } = assembly
  const { unit, colour } = placements
  const names = shardNames(assembly)
  const parts = new Map<string, { solid: Solid; called: string; entries: number[] }>()
  unit.forEach((u, i) => {
    if (units[u].indices.length === 0) return
    const own = colour?.[i] ?? NONE
    const part = parts.get(`${u} ${own}`)
    if (part) part.entries.push(i)
    else parts.set(`${u} ${own}`, { solid: own === NONE ? units[u] : inColour(units[u], own), called: names[i], entries: [i] })
  })
  return [...parts.values()]
}

function pushMesh(xml: string[], { positions: p, indices }: Solid, of: ArrayLike<number>, first: number, id: number, name: string): void {
  xml.push(`<object id="${id}" type="model" name="${escaped(name)}" pid="1" pindex="${first}"><mesh><vertices>`)
  for (let i = 0; i < p.length; i += 3) xml.push(`<vertex x="${p[i]}" y="${p[i + 1]}" z="${p[i + 2]}"/>`)
  xml.push('</vertices><triangles>')
  for (let t = 0; t < of.length; t++)
    xml.push(`<triangle v1="${indices[3 * t]}" v2="${indices[3 * t + 1]}" v3="${indices[3 * t + 2]}" pid="1" p1="${first + of[t]}"/>`)
  xml.push('</triangles></mesh></object>')
}

/** A model part larger than this when unpacked is refused before it is unpacked. */
const MOST_XML = 400 * 1024 * 1024
const UNITS: Record<string, number> = { micron: 0.001, millimeter: 1, centimeter: 10, inch: 25.4, foot: 304.8, meter: 1000 }

/** Placed objects of one file, counted also where they hold nothing. */
const MOST_PLACED = 100_000

/** x' = x·m[0] + y·m[3] + z·m[6] + m[9], and so on: as 3MF writes its transforms. */
type Transform = readonly number[]
const STAY: Transform = [1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0]

/** First `a`, then `b`. */
const after = (a: Transform, b: Transform): Transform =>
  a === STAY ? b : b === STAY ? a : a.map((_, i) => [0, 1, 2].reduce((sum, k) => sum + a[3 * Math.floor(i / 3) + k] * b[3 * k + (i % 3)], i < 9 ? 0 : b[i]))

interface Item {
  readonly object: string
  readonly transform: Transform
}

interface Thing {
  readonly name: string
  readonly look: Look | undefined
  /** mm */
  readonly positions: number[]
  readonly corners: number[]
  /** per triangle, undefined for the object's own */
  readonly looks: (Look | undefined)[]
  readonly components: Item[]
}

/**
 * Reads a 3MF file (3MF Core Specification 1.3, with the colour groups of the Materials extension and the paths of the Production
 * extension): what its build places, components and all, in mm, each object a part in its base materials and colours. A file that builds
 * nothing gives all its meshes as they lie. Throws FormatError.
 */
export function read3mf(bytes: Uint8Array): MeshData {
  let parts: ReturnType<typeof archiveParts>
  try {
    parts = archiveParts(bytes, (name) => /\.model$/i.test(name), MOST_XML)
  } catch {
    throw new FormatError('The 3MF file is no readable archive.')
  }
  if (parts === 'large') throw new FormatError('The model in the 3MF file is larger than 400 MB.', 'Export it with fewer triangles.')
  if (parts.length === 0) throw new FormatError('The 3MF file holds no model.')
  const things = new Map<string, Thing>()
  let items: Item[] = []
  // the one that stands highest holds the build
  const depth = (name: string) => name.split('/').length
  const root = parts.reduce((best, part) => (depth(part.name) < depth(best.name) ? part : best))
  for (const part of parts) {
    const build = readPart(strFromU8(part.bytes), part.name, things)
    if (part === root) items = build
  }
  const mesh = new MeshBuilder()
  if (items.length === 0) for (const [object, { corners }] of things) if (corners.length > 0) items.push({ object, transform: STAY })
  let count = 0
  const place = ({ object, transform }: Item, within: readonly string[], called: string): void => {
    const thing = things.get(object)
    if (!thing) throw new FormatError('The 3MF file places an object that is not there.')
    if (within.includes(object)) throw new FormatError('The 3MF file has an object that holds itself.')
    if (++count > MOST_PLACED) throw new FormatError(`The 3MF file places more than ${MOST_PLACED.toLocaleString('en')} objects.`, 'Export fewer copies.')
    const name = thing.name || called
    put(mesh, thing, transform, name)
    for (const component of thing.components) place({ object: component.object, transform: after(component.transform, transform) }, [...within, object], name)
  }
  for (const item of items) place(item, [], '')
  if (mesh.triangles === 0) throw new FormatError('The 3MF file holds no triangles.')
  return mesh.finish()
}

function put(mesh: MeshBuilder, { positions: p, corners, looks, look }: Thing, m: Transform, name: string): void {
  const base = mesh.vertices
  for (let i = 0; i < p.length; i += 3) {
    const [x, y, z] = [p[i], p[i + 1], p[i + 2]]
    // what stays is not touched by rounding
    if (m === STAY) mesh.vertex(x, y, z)
    else mesh.vertex(x * m[0] + y * m[3] + z * m[6] + m[9], x * m[1] + y * m[4] + z * m[7] + m[10], x * m[2] + y * m[5] + z * m[8] + m[11])
  }
  const mirrored = m[0] * (m[4] * m[8] - m[5] * m[7]) - m[1] * (m[3] * m[8] - m[5] * m[6]) + m[2] * (m[3] * m[7] - m[4] * m[6]) < 0
  const [second, third] = mirrored ? [2, 1] : [1, 2]
  let last: Look | undefined | null = null
  let surface = 0
  for (let t = 0; t < looks.length; t++) {
    const wears = looks[t] ?? look
    if (wears !== last) surface = mesh.surface(name, (last = wears))
    mesh.triangle(base + corners[3 * t], base + corners[3 * t + second], base + corners[3 * t + third], surface)
  }
}

/** Reads one model part into `things`, its objects under the part's path and their number, and gives what it builds. */
function readPart(xml: string, path: string, things: Map<string, Thing>): Item[] {
  const items: Item[] = []
  const properties = new Map<string, Look[]>()
  const parser = new SaxesParser()
  const where = () => ` at line ${parser.line}`
  const number = (a: Record<string, unknown>, name: string) => {
    const value = Number(a[name])
    if (a[name] === undefined || a[name] === '' || !Number.isFinite(value)) throw new FormatError(`The 3MF file lacks a number for “${name}”${where()}.`)
    return value
  }
  const colour = (text: unknown): string | undefined => /^#[0-9a-f]{6}([0-9a-f]{2})?$/i.exec(String(text))?.[0].slice(0, 7).toLowerCase()
  const lookAt = (pid: unknown, index: unknown): Look | undefined => properties.get(String(pid))?.[Number(index)]
  let scale = 1
  const itemOf = (a: Record<string, unknown>): Item => {
    const elsewhere = Object.entries(a).find(([name]) => name.endsWith(':path'))?.[1]
    const text = a.transform === undefined ? '' : String(a.transform).trim()
    const m = text === '' ? STAY : text.split(/\s+/).map(Number)
    if (m.length !== 12 || !m.every(Number.isFinite)) throw new FormatError(`The 3MF file has a transform that is not twelve numbers${where()}.`)
    const still = m.every((v, i) => v === STAY[i])
    return {
      object: `${elsewhere === undefined ? path : String(elsewhere).replace(/^\//, '')}#${a.objectid}`,
      transform: still ? STAY : m.map((v, i) => (i < 9 ? v : v * scale)),
    }
  }
  let thing: Thing | undefined
  let group: Look[] = []
  let pid: unknown
  let vertices = 0
  parser.on('opentag', ({ name, attributes }) => {
    const a = attributes as Record<string, unknown>
    const local = name.replace(/^.*:/, '')
    if (local === 'vertex' && thing) {
      if (++vertices > 3 * MOST_TRIANGLES) throw tooManyTriangles(MOST_TRIANGLES + 1)
      thing.positions.push(number(a, 'x') * scale, number(a, 'y') * scale, number(a, 'z') * scale)
    } else if (local === 'triangle' && thing) {
      for (const key of ['v1', 'v2', 'v3']) {
        const v = number(a, key)
        if (!Number.isInteger(v) || v < 0 || 3 * v >= thing.positions.length) throw new FormatError(`The 3MF file names a vertex that is not there${where()}.`)
        thing.corners.push(v)
      }
      if (thing.looks.length >= MOST_TRIANGLES) throw tooManyTriangles(thing.looks.length + 1)
      thing.looks.push(a.p1 === undefined ? undefined : lookAt(a.pid ?? pid, a.p1))
    } else if (local === 'object') {
      pid = a.pid
      // readers and writers put what an object is made of before it
      thing = { name: String(a.name ?? '').slice(0, 200), look: lookAt(a.pid, a.pindex ?? 0), positions: [], corners: [], looks: [], components: [] }
      things.set(`${path}#${a.id}`, thing)
    } else if (local === 'component') thing?.components.push(itemOf(a))
    else if (local === 'item') items.push(itemOf(a))
    else if (local === 'model') {
      const unit = String(a.unit ?? 'millimeter')
      if (!(unit in UNITS)) throw new FormatError(`The 3MF file is in a unit that is not known, “${unit.slice(0, 40)}”.`)
      scale = UNITS[unit]
    } else if (local === 'basematerials' || local === 'colorgroup') properties.set(String(a.id), (group = []))
    else if (local === 'base' || local === 'color') {
      const shown = colour(local === 'base' ? a.displaycolor : a.color)
      group.push({ name: String(a.name ?? shown ?? 'material').slice(0, 200), material: { ...UNDRESSED, ...(shown ? { colour: shown } : {}) } })
    }
  })
  parser.on('closetag', ({ name }) => {
    if (name.replace(/^.*:/, '') === 'object') thing = undefined
  })
  parser.on('error', (error) => {
    throw new FormatError(`The 3MF file’s model is no well-formed XML: ${error.message}.`)
  })
  parser.write(xml).close()
  return items
}
