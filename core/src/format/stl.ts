import type { Solid } from '../solid/solid'
import { MeshBuilder, tooManyTriangles } from './mesh-builder'
import { FormatError, type MeshData, MOST_TRIANGLES } from './mesh-data'

/**
 * STL, binary: 80 bytes of header, triangle count, then 50 bytes a triangle (normal, three points, a spare word), little
 * endian, 32-bit floats. Millimetres, Z up as the solid stands. Reads the ASCII form too.
 */
export function writeStl(solid: Pick<Solid, 'positions' | 'indices'>, name = 'Kelvar'): Uint8Array {
  const count = solid.indices.length / 3
  const bytes = new Uint8Array(84 + 50 * count)
  const view = new DataView(bytes.buffer)
  // a binary file must not begin with the word that marks the ASCII form
  bytes.set(new TextEncoder().encode(`Made by ${name}, millimetres`).subarray(0, 79))
  view.setUint32(80, count, true)
  const { positions: p, indices } = solid
  for (let t = 0; t < count; t++) {
    const at = 84 + 50 * t
    const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
    const ux = p[b] - p[a]
    const uy = p[b + 1] - p[a + 1]
    const uz = p[b + 2] - p[a + 2]
    const vx = p[c] - p[a]
    const vy = p[c + 1] - p[a + 1]
    const vz = p[c + 2] - p[a + 2]
    const n = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx]
    const length = Math.hypot(n[0], n[1], n[2]) || 1
    for (let k = 0; k < 3; k++) view.setFloat32(at + 4 * k, n[k] / length, true)
    ;[a, b, c].forEach((v, i) => {
      for (let k = 0; k < 3; k++) view.setFloat32(at + 12 + 12 * i + 4 * k, p[v + k], true)
    })
  }
  return bytes
}

/**
 * Reads STL of either form; vertices are not shared. Colours in the spare words are read in both ways that are in use: bit 15 set and blue
 * lowest, or, where the header says COLOR=, bit 15 clear and red lowest, with the header's colour for the rest. Throws FormatError with a
 * remedy.
 */
export function readStl(bytes: Uint8Array): MeshData {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const count = bytes.length >= 84 ? view.getUint32(80, true) : -1
  if (count >= 0 && bytes.length === 84 + 50 * count) return readBinary(bytes, view, count)
  const head = new TextDecoder().decode(bytes.subarray(0, 512))
  if (/^\s*solid\b/.test(head) && /facet|endsolid/.test(head)) return readAscii(new TextDecoder().decode(bytes))
  if (bytes.length < 84) throw new FormatError('The STL file is cut short.')
  throw new FormatError(
    `The STL file is damaged: it announces ${count.toLocaleString('en')} triangles but holds ${Math.floor((bytes.length - 84) / 50).toLocaleString('en')}.`,
  )
}

function readBinary(bytes: Uint8Array, view: DataView, count: number): MeshData {
  if (count > MOST_TRIANGLES) throw tooManyTriangles(count)
  const header = new TextDecoder('latin1').decode(bytes.subarray(0, 80))
  const said = header.indexOf('COLOR=')
  const whole = said >= 0 && said <= 70 ? (bytes[said + 6] << 16) | (bytes[said + 7] << 8) | bytes[said + 8] : -1
  let colours = whole >= 0
  for (let t = 0; t < count && !colours; t++) colours = view.getUint16(132 + 50 * t, true) >= 0x8000
  if (colours) return readColoured(view, count, whole)
  const positions = new Float64Array(9 * count)
  const indices = new Uint32Array(3 * count)
  for (let t = 0; t < count; t++) {
    const at = 96 + 50 * t
    for (let i = 0; i < 9; i++) positions[9 * t + i] = view.getFloat32(at + 4 * i, true)
    for (let k = 3 * t; k < 3 * t + 3; k++) indices[k] = k
  }
  return { positions, indices }
}

/** Five bits as eight. */
const eight = (five: number) => (five << 3) | (five >> 2)

function readColoured(view: DataView, count: number, whole: number): MeshData {
  const mesh = new MeshBuilder()
  const plain = mesh.surface('')
  for (let t = 0; t < count; t++) {
    const at = 96 + 50 * t
    for (let k = 0; k < 3; k++) mesh.vertex(view.getFloat32(at + 12 * k, true), view.getFloat32(at + 12 * k + 4, true), view.getFloat32(at + 12 * k + 8, true))
    const word = view.getUint16(at + 36, true)
    const [low, middle, high] = [word & 31, (word >> 5) & 31, (word >> 10) & 31].map(eight)
    const own = word >= 0x8000 !== whole >= 0
    const colour = whole >= 0 ? (low << 16) | (middle << 8) | high : (high << 16) | (middle << 8) | low
    mesh.triangle(3 * t, 3 * t + 1, 3 * t + 2, plain, own ? colour : whole)
  }
  return mesh.finish()
}

function readAscii(text: string): MeshData {
  const mesh = new MeshBuilder()
  const plain = mesh.surface('')
  for (const match of text.matchAll(/\bvertex\s+(\S+)\s+(\S+)\s+(\S+)/g)) {
    const [x, y, z] = [Number(match[1]), Number(match[2]), Number(match[3])]
    if (!Number.isFinite(x + y + z)) throw new FormatError('The STL file holds a coordinate that is no number.')
    const v = mesh.vertex(x, y, z)
    if (v % 3 === 2) mesh.triangle(v - 2, v - 1, v, plain)
  }
  if (mesh.vertices % 3 !== 0) throw new FormatError('The STL file is cut short: a facet lacks vertices.')
  return mesh.finish()
}
