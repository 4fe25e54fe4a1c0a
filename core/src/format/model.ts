import { FormatError, type MeshData } from './mesh-data'

export const MODEL_FORMATS = ['stl', 'obj', 'ply', 'glb', '3mf'] as const
export type ModelFormat = (typeof MODEL_FORMATS)[number]

/** Formats whose numbers are of no stated unit. */
export const WITHOUT_UNITS: readonly ModelFormat[] = ['stl', 'obj', 'ply']

/** Models of more triangles are refused. */
export const MOST_TRIANGLES = 2_000_000

const text = (bytes: Uint8Array, length: number) => new TextDecoder('latin1').decode(bytes.subarray(0, length))

/** Which model format a file is of, by what it holds; undefined when it is none of them. */
export function modelKind(bytes: Uint8Array): ModelFormat | undefined {
  const head = text(bytes, 4)
  if (head === 'glTF') return 'glb'
  if (head === 'PK\u0003\u0004') return '3mf'
  if (/^ply\r?\n/.test(text(bytes, 5))) return 'ply'
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  if (bytes.length >= 84 && bytes.length === 84 + 50 * view.getUint32(80, true)) return 'stl'
  const start = text(bytes, 65_536)
  if (/^\s*solid\b/.test(start) && /\bfacet\b|\bendsolid\b/.test(start)) return 'stl'
  if (/^v[ \t]+-?[\d.]/m.test(start) && !start.startsWith('<')) return 'obj'
  return undefined
}

/**
 * The triangles of a model of any format that is read, in the file's own numbers where it states no unit, else in mm. Throws FormatError,
 * also for more than two million triangles.
 */
export async function readModel(bytes: Uint8Array): Promise<MeshData & { readonly format: ModelFormat }> {
  const format = modelKind(bytes)
  if (!format) throw new FormatError('The file is no model that Kelvar reads.', 'Bring in STL, OBJ, PLY, GLB or 3MF.')
  const mesh = await read(format, bytes)
  const triangles = mesh.indices.length / 3
  if (triangles === 0) throw new FormatError('The model holds no triangles.')
  if (triangles > MOST_TRIANGLES)
    throw new FormatError(
      `The model has ${triangles.toLocaleString('en')} triangles; at most ${MOST_TRIANGLES.toLocaleString('en')} are read.`,
      'Reduce it where it was made.',
    )
  for (let i = 0; i < mesh.positions.length; i++)
    if (!Number.isFinite(mesh.positions[i])) throw new FormatError('The model holds a coordinate that is no number.')
  return { ...mesh, format }
}

async function read(format: ModelFormat, bytes: Uint8Array): Promise<MeshData> {
  if (format === 'stl') return (await import('./stl')).readStl(bytes)
  if (format === 'glb') return (await import('./glb')).readGlb(bytes)
  if (format === 'ply') return (await import('./ply')).readPly(bytes)
  if (format === '3mf') return (await import('./3mf')).read3mf(bytes)
  return (await import('./obj')).readObj(new TextDecoder().decode(bytes))
}
