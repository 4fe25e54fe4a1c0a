import { rgbOf } from '../look/material'
import { type Solid, surfacesOf } from '../solid/solid'
import { MeshBuilder } from './mesh-builder'
import { FormatError, type MeshData } from './mesh-data'
import { NumberWords } from './number-words'

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

/** Reads the triangles of a PLY file, ASCII or binary, with the colours of its faces or vertices; polygons are cut into fans. Throws FormatError. */
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
  const mesh = new MeshBuilder()
  const plain = mesh.surface('')
  // red, green, blue as one number for each vertex, where vertices have one
  let tints: Int32Array | undefined
  let corners = new Float64Array(64)
  for (const { name, count, properties } of elements) {
    const single = properties.filter((property) => !property.count)
    const column = (...names: string[]) => single.findIndex((property) => names.includes(property.name))
    const values = new Float64Array(single.length)
    const [x, y, z] = [column('x'), column('y'), column('z')]
    const rgb = [column('red', 'diffuse_red', 'r'), column('green', 'diffuse_green', 'g'), column('blue', 'diffuse_blue', 'b')]
    const has = rgb.every((c) => c >= 0)
    const scale = has ? FULL[single[rgb[0]].type] : 0
    const tint = () => rgb.reduce((sum, c) => sum * 256 + Math.round(Math.min(1, Math.max(0, values[c] / scale || 0)) * 255), 0)
    if (name === 'vertex' && [x, y, z].some((c) => c < 0)) throw new FormatError('The PLY file’s vertices lack a coordinate.')
    if (name === 'vertex' && has) tints = new Int32Array(count)
    for (let i = 0; i < count; i++) {
      let [number, length] = [0, 0]
      for (const property of properties) {
        if (!property.count) {
          values[number++] = next(property.type)
          continue
        }
        const size = next(property.count)
        if (!(size >= 0 && size < 100_000)) throw new FormatError('The PLY file holds a face of impossible length.')
        const wanted = name === 'face' && /^vertex_ind/.test(property.name)
        if (wanted && size > corners.length) corners = new Float64Array(2 * size)
        if (wanted) length = size
        for (let k = 0; k < size; k++) {
          const value = next(property.type)
          if (wanted) corners[k] = value
        }
      }
      if (name === 'vertex') {
        if (!Number.isFinite(values[x] + values[y] + values[z])) throw new FormatError('The PLY file holds a coordinate that is no number.')
        mesh.vertex(values[x], values[y], values[z])
        if (tints) tints[i] = tint()
      } else if (name === 'face') {
        for (let k = 0; k < length; k++)
          if (!(Number.isInteger(corners[k]) && corners[k] >= 0 && corners[k] < mesh.vertices))
            throw new FormatError('The PLY file names a vertex that is not there.')
        for (let k = 2; k < length; k++) {
          const [a, b, c] = [corners[0], corners[k - 1], corners[k]]
          mesh.triangle(a, b, c, plain, has ? tint() : tints ? mean(tints[a], tints[b], tints[c]) : -1)
        }
      }
    }
  }
  if (mesh.triangles === 0) throw new FormatError('The PLY file holds no faces.')
  return mesh.finish()
}

/** What stands for full colour in each type. */
const FULL: Record<string, number> = {
  ...Object.fromEntries(Object.keys(SIZES).map((type) => [type, 255])),
  ushort: 65_535,
  uint16: 65_535,
  float: 1,
  float32: 1,
  double: 1,
  float64: 1,
}

/** The mean of three colours, each one number. */
const mean = (a: number, b: number, c: number) =>
  [16, 8, 0].reduce((sum, by) => sum + (Math.round((((a >> by) & 255) + ((b >> by) & 255) + ((c >> by) & 255)) / 3) << by), 0)

function reader(bytes: Uint8Array, from: number, format: string | undefined): (type: string) => number {
  const short = () => new FormatError('The PLY file is cut short.')
  if (format === 'ascii') {
    const words = new NumberWords(bytes, from)
    return () => {
      const value = words.next()
      if (value === undefined) throw short()
      return value
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
