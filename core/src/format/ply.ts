import { rgbOf } from '../look/material'
import { type Solid, surfacesOf } from '../solid/solid'
import { FormatError, type MeshData } from './mesh-data'

/**
 * PLY, binary little endian (Turk, "The PLY Polygon File Format", 1994): 32-bit positions in millimetres as the solid stands, and a
 * colour for every face.
 */
export function writePly(solid: Solid): Uint8Array {
  const { surfaces, of } = surfacesOf(solid)
  const vertices = solid.positions.length / 3
  const faces = of.length
  const head = new TextEncoder().encode(
    [
      'ply',
      'format binary_little_endian 1.0',
      'comment Made by Kelvar, millimetres',
      `element vertex ${vertices}`,
      'property float x',
      'property float y',
      'property float z',
      `element face ${faces}`,
      'property list uchar int vertex_indices',
      'property uchar red',
      'property uchar green',
      'property uchar blue',
      'end_header\n',
    ].join('\n'),
  )
  const bytes = new Uint8Array(head.length + 12 * vertices + 16 * faces)
  bytes.set(head)
  const view = new DataView(bytes.buffer, head.length)
  for (let i = 0; i < solid.positions.length; i++) view.setFloat32(4 * i, solid.positions[i], true)
  const colours = surfaces.map(({ material }) => rgbOf(material.colour))
  let at = 12 * vertices
  for (let t = 0; t < faces; t++) {
    view.setUint8(at, 3)
    for (let k = 0; k < 3; k++) view.setInt32(at + 1 + 4 * k, solid.indices[3 * t + k], true)
    for (let k = 0; k < 3; k++) view.setUint8(at + 13 + k, colours[of[t]][k])
    at += 16
  }
  return bytes
}

const SIZES: Record<string, number> = {
  char: 1,
  uchar: 1,
  int8: 1,
  uint8: 1,
  short: 2,
  ushort: 2,
  int16: 2,
  uint16: 2,
  int: 4,
  uint: 4,
  int32: 4,
  uint32: 4,
  float: 4,
  float32: 4,
  double: 8,
  float64: 8,
}

interface Property {
  readonly name: string
  readonly type: string
  /** of lists: the type of their length */
  readonly count?: string
}

const MOST_ELEMENTS = 20_000_000

/** Reads the triangles of a PLY file, ASCII or binary; polygons are cut into fans. Throws FormatError. */
export function readPly(bytes: Uint8Array): MeshData {
  const start = new TextDecoder('latin1').decode(bytes.subarray(0, 65_536))
  const end = /end_header\r?\n/.exec(start)
  if (!start.startsWith('ply') || !end) throw new FormatError('The file is no PLY model: its header has no end.')
  const lines = start.slice(0, end.index).split(/\r?\n/)
  const format = lines.find((line) => line.startsWith('format '))?.split(/\s+/)[1]
  const elements: { name: string; count: number; properties: Property[] }[] = []
  for (const line of lines) {
    const [word, ...rest] = line.trim().split(/\s+/)
    if (word === 'element') {
      const count = Number(rest[1])
      if (!Number.isInteger(count) || count < 0 || count > MOST_ELEMENTS) throw new FormatError(`The PLY file announces ${rest[1]} of “${rest[0]}”.`)
      elements.push({ name: rest[0], count, properties: [] })
    } else if (word === 'property') {
      const property = rest[0] === 'list' ? { count: rest[1], type: rest[2], name: rest[3] } : { type: rest[0], name: rest[1] }
      if (!SIZES[property.type] || (property.count && !SIZES[property.count]))
        throw new FormatError(`The PLY file uses an unknown kind of number, “${rest.join(' ')}”.`)
      elements[elements.length - 1]?.properties.push(property)
    }
  }
  // what is announced must fit into what is there: a value takes its bytes, or a digit and a space
  const room = bytes.length - end.index - end[0].length
  const least = (p: Property) => (format === 'ascii' ? 2 : SIZES[p.count ?? p.type])
  const announced = elements.reduce((sum, { count, properties }) => sum + count * properties.reduce((size, p) => size + least(p), 0), 0)
  // the last number may end with the file
  if (announced > room + 1 || elements.some(({ count, properties }) => count > 0 && properties.length === 0))
    throw new FormatError('The PLY file is cut short: it announces more than it holds.')
  const next = reader(bytes, end.index + end[0].length, format)
  const positions: number[] = []
  const indices: number[] = []
  for (const { name, count, properties } of elements)
    for (let i = 0; i < count; i++) {
      const xyz: Record<string, number> = {}
      for (const property of properties) {
        if (!property.count) {
          xyz[property.name] = next(property.type)
          continue
        }
        const length = next(property.count)
        if (!(length >= 0 && length < 100_000)) throw new FormatError('The PLY file holds a face of impossible length.')
        const corners = Array.from({ length }, () => next(property.type))
        if (name === 'face' && /^vertex_ind/.test(property.name)) for (let k = 2; k < length; k++) indices.push(corners[0], corners[k - 1], corners[k])
      }
      if (name === 'vertex') positions.push(xyz.x, xyz.y, xyz.z)
    }
  if (!positions.every(Number.isFinite)) throw new FormatError('The PLY file holds a coordinate that is no number.')
  if (indices.length === 0) throw new FormatError('The PLY file holds no faces.')
  if (indices.some((v) => !Number.isInteger(v) || v < 0 || 3 * v >= positions.length)) throw new FormatError('The PLY file names a vertex that is not there.')
  return { positions: Float64Array.from(positions), indices: Uint32Array.from(indices) }
}

function reader(bytes: Uint8Array, from: number, format: string | undefined): (type: string) => number {
  const short = () => new FormatError('The PLY file is cut short.')
  if (format === 'ascii') {
    const words = new TextDecoder().decode(bytes.subarray(from)).split(/\s+/).filter(Boolean)
    let i = 0
    return () => {
      if (i >= words.length) throw short()
      return Number(words[i++])
    }
  }
  if (format !== 'binary_little_endian' && format !== 'binary_big_endian') throw new FormatError(`The PLY file is of an unknown form, “${format ?? 'none'}”.`)
  const little = format === 'binary_little_endian'
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  let at = from
  return (type) => {
    const size = SIZES[type]
    if (at + size > bytes.length) throw short()
    const here = at
    at += size
    if (type.startsWith('float') || type === 'double') return size === 8 ? view.getFloat64(here, little) : view.getFloat32(here, little)
    const unsigned = type.startsWith('u')
    if (size === 1) return unsigned ? view.getUint8(here) : view.getInt8(here)
    if (size === 2) return unsigned ? view.getUint16(here, little) : view.getInt16(here, little)
    return unsigned ? view.getUint32(here, little) : view.getInt32(here, little)
  }
}
