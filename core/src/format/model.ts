import { unzipSync } from 'fflate'
import { tooManyTriangles } from './mesh-builder'
import { FormatError, type MeshData, MOST_TRIANGLES } from './mesh-data'

export const MODEL_FORMATS = ['stl', 'obj', 'ply', 'gltf', '3mf'] as const
export type ModelFormat = (typeof MODEL_FORMATS)[number]

/** Formats whose numbers are of no stated unit. */
export const WITHOUT_UNITS: readonly ModelFormat[] = ['stl', 'obj', 'ply']

const text = (bytes: Uint8Array, length: number) => new TextDecoder('latin1').decode(bytes.subarray(0, length))

/** Which model format a file is of, by what it holds; undefined when it is none of them. */
export function modelKind(bytes: Uint8Array): ModelFormat | undefined {
  const head = text(bytes, 4)
  if (head === 'glTF') return 'gltf'
  if (head === 'PK\u0003\u0004') return holds(bytes, /\.model$/i) ? '3mf' : holds(bytes, /\.obj$/i) ? 'obj' : '3mf'
  if (/^ply\r?\n/.test(text(bytes, 5))) return 'ply'
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  if (bytes.length >= 84 && bytes.length === 84 + 50 * view.getUint32(80, true)) return 'stl'
  const start = text(bytes, 65_536)
  if (/^\s*\{/.test(start) && /"asset"\s*:/.test(text(bytes, bytes.length))) return 'gltf'
  if (/^\s*solid\b/.test(start) && /\bfacet\b|\bendsolid\b/.test(start)) return 'stl'
  if (/^v[ \t]+-?[\d.]/m.test(start) && !start.startsWith('<')) return 'obj'
  return undefined
}

/** Whether an archive's directory, or what it holds up to there, names such a part. */
function holds(bytes: Uint8Array, name: RegExp): boolean {
  let found = false
  try {
    unzipSync(bytes, {
      filter: (part) => {
        found ||= name.test(part.name)
        return false
      },
    })
  } catch {
    // said when it is read
  }
  return found
}

/**
 * The triangles of a model of any format that is read, in the file's own numbers where it states no unit, else in mm. Throws FormatError,
 * also for more than two million triangles.
 */
export async function readModel(bytes: Uint8Array): Promise<MeshData & { readonly format: ModelFormat }> {
  const format = modelKind(bytes)
  if (!format) throw new FormatError('The file is no model that Kelvar reads.', 'Bring in STL, OBJ, PLY, glTF or 3MF.')
  return { ...(await readModelAs(format, bytes)), format }
}

/** The triangles of a model that is taken for a format, whatever it looks like. Throws FormatError. */
export async function readModelAs(format: ModelFormat, bytes: Uint8Array): Promise<MeshData> {
  const mesh = await read(format, bytes)
  const triangles = mesh.indices.length / 3
  if (triangles === 0) throw new FormatError('The model holds no triangles.')
  if (triangles > MOST_TRIANGLES) throw tooManyTriangles(triangles)
  for (let i = 0; i < mesh.positions.length; i++)
    if (!Number.isFinite(mesh.positions[i])) throw new FormatError('The model holds a coordinate that is no number.')
  return mesh
}

async function read(format: ModelFormat, bytes: Uint8Array): Promise<MeshData> {
  if (format === 'stl') return (await import('./stl')).readStl(bytes)
  if (format === 'gltf') return (await import('./gltf')).readGltf(bytes)
  if (format === 'ply') return (await import('./ply')).readPly(bytes)
  if (format === '3mf') return (await import('./3mf')).read3mf(bytes)
  const { readObj, readObjArchive } = await import('./obj')
  return text(bytes, 2) === 'PK' ? readObjArchive(bytes) : readObj(new TextDecoder().decode(bytes))
}
