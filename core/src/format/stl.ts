import type { Solid } from '../solid/solid'
import { FormatError, type MeshData } from './mesh-data'

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

/** Reads STL of either form; vertices are not shared (see weldByPosition). Throws FormatError with a remedy. */
export function readStl(bytes: Uint8Array): MeshData {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const count = bytes.length >= 84 ? view.getUint32(80, true) : -1
  if (count >= 0 && bytes.length === 84 + 50 * count) return readBinary(view, count)
  const head = new TextDecoder().decode(bytes.subarray(0, 512))
  if (/^\s*solid\b/.test(head) && /facet|endsolid/.test(head)) return readAscii(new TextDecoder().decode(bytes))
  if (bytes.length < 84) throw new FormatError('The STL file is cut short.')
  throw new FormatError(
    `The STL file is damaged: it announces ${count.toLocaleString('en')} triangles but holds ${Math.floor((bytes.length - 84) / 50).toLocaleString('en')}.`,
  )
}

function readBinary(view: DataView, count: number): MeshData {
  const positions = new Float64Array(9 * count)
  for (let t = 0; t < count; t++) for (let i = 0; i < 9; i++) positions[9 * t + i] = view.getFloat32(84 + 50 * t + 12 + 4 * i, true)
  return { positions, indices: Uint32Array.from({ length: 3 * count }, (_, i) => i) }
}

function readAscii(text: string): MeshData {
  const values: number[] = []
  for (const match of text.matchAll(/\bvertex\s+(\S+)\s+(\S+)\s+(\S+)/g)) values.push(Number(match[1]), Number(match[2]), Number(match[3]))
  if (values.some((v) => !Number.isFinite(v))) throw new FormatError('The STL file holds a coordinate that is no number.')
  if (values.length % 9 !== 0) throw new FormatError('The STL file is cut short: a facet lacks vertices.')
  return { positions: Float64Array.from(values), indices: Uint32Array.from({ length: values.length / 3 }, (_, i) => i) }
}
