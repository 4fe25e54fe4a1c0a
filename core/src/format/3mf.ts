import { strFromU8, strToU8 } from 'fflate'
import { SaxesParser } from 'saxes'
import { type Solid, surfacesOf } from '../solid/solid'
import { archive, archivePart } from './archive'
import { FormatError, type MeshData } from './mesh-data'

const CORE = 'http://schemas.microsoft.com/3dmanufacturing/core/2015/02'
const MODEL = '3D/3dmodel.model'

const escaped = (text: string) => text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`)

/**
 * 3MF (3MF Core Specification 1.3): one object in millimetres, lying on its back with its face up, as the solid itself does, and a
 * base material for every surface. Positions are written exactly.
 */
export function write3mf(solid: Solid, name: string): Uint8Array {
  const { surfaces, of } = surfacesOf(solid)
  const xml: string[] = [
    '<?xml version="1.0" encoding="UTF-8"?>',
    `<model unit="millimeter" xml:lang="en-GB" xmlns="${CORE}">`,
    `<metadata name="Title">${escaped(name)}</metadata><metadata name="Application">Kelvar</metadata>`,
    '<resources>',
    '<basematerials id="1">',
    ...surfaces.map((s) => `<base name="${escaped(s.name)}" displaycolor="${s.material.colour.toUpperCase()}FF"/>`),
    '</basematerials>',
    `<object id="2" type="model" name="${escaped(name)}" pid="1" pindex="0"><mesh><vertices>`,
  ]
  const p = solid.positions
  for (let i = 0; i < p.length; i += 3) xml.push(`<vertex x="${p[i]}" y="${p[i + 1]}" z="${p[i + 2]}"/>`)
  xml.push('</vertices><triangles>')
  const { indices } = solid
  for (let t = 0; t < of.length; t++) xml.push(`<triangle v1="${indices[3 * t]}" v2="${indices[3 * t + 1]}" v3="${indices[3 * t + 2]}" pid="1" p1="${of[t]}"/>`)
  xml.push('</triangles></mesh></object></resources><build><item objectid="2"/></build></model>')
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

/** A model part larger than this when unpacked is refused before it is unpacked. */
const MOST_XML = 400 * 1024 * 1024
const UNITS: Record<string, number> = { micron: 0.001, millimeter: 1, centimeter: 10, inch: 25.4, foot: 304.8, meter: 1000 }

/** Reads the triangles of all objects of a 3MF file's model part, in mm, each where it lies in its own coordinates. Throws FormatError. */
export function read3mf(bytes: Uint8Array): MeshData {
  let model: Uint8Array | 'large' | undefined
  try {
    model = archivePart(bytes, (name) => /\.model$/i.test(name), MOST_XML)
  } catch {
    throw new FormatError('The 3MF file is no readable archive.')
  }
  if (model === 'large') throw new FormatError('The model in the 3MF file is larger than 400 MB.', 'Export it with fewer triangles.')
  if (!model) throw new FormatError('The 3MF file holds no model.')
  const positions: number[] = []
  const indices: number[] = []
  let scale = 1
  let base = 0
  const parser = new SaxesParser()
  const number = (attributes: Record<string, unknown>, name: string) => {
    const value = Number(attributes[name])
    if (attributes[name] === undefined || !Number.isFinite(value)) throw new FormatError(`The 3MF file lacks a number for “${name}” at line ${parser.line}.`)
    return value
  }
  parser.on('opentag', ({ name, attributes }) => {
    const a = attributes as Record<string, unknown>
    const local = name.replace(/^.*:/, '')
    if (local === 'model') scale = UNITS[String(a.unit ?? 'millimeter')] ?? 1
    else if (local === 'vertices') base = positions.length / 3
    else if (local === 'vertex') positions.push(number(a, 'x') * scale, number(a, 'y') * scale, number(a, 'z') * scale)
    else if (local === 'triangle') for (const key of ['v1', 'v2', 'v3']) indices.push(base + number(a, key))
  })
  parser.on('error', (error) => {
    throw new FormatError(`The 3MF file’s model is no well-formed XML: ${error.message}.`)
  })
  parser.write(strFromU8(model)).close()
  if (indices.length === 0) throw new FormatError('The 3MF file holds no triangles.')
  if (indices.some((v) => !Number.isInteger(v) || v < 0 || 3 * v >= positions.length)) throw new FormatError('The 3MF file names a vertex that is not there.')
  return { positions: Float64Array.from(positions), indices: Uint32Array.from(indices) }
}
