import { z } from 'zod'
import { flattened, type ViewMesh } from '../workers/view-mesh'

/** What a piece last looked like: the mesh and the content key it is of. */
export interface Look {
  readonly key: string
  readonly mesh: ViewMesh
}

/** The key of a look in which copies are triangles of their own: what is made is sent once more, as copies. */
export const flatKey = (key: string): string => `${key} flat`

/** Larger meshes are not kept as looks: showing them would take as long as making them. */
export const MOST_LOOK_TRIANGLES = 600_000
/** Larger looks do not go to the library, for browsers that have not seen the piece. */
export const MOST_LOOK_SENT = 6 * 1024 * 1024

/** What a piece's mesh is remembered as: copies as they look, and materials without their pictures; under a key of its own then, so that all is sent when it is made. */
export const lookOf = ({ key, mesh }: Look): Look => (mesh.copies || mesh.pictureUv ? { key: flatKey(key), mesh: flattened(mesh) } : { key, mesh })

/** Where the library keeps the look of a piece. */
export const lookAddress = (project: string, piece: string): string => `/api/projects/${project}/looks/${encodeURIComponent(piece)}`

const group = z.enum(['face', 'edge', 'return', 'back', 'inside'])
const material = z.object({ colour: z.string(), roughness: z.number(), metalness: z.number(), glow: z.number().optional(), clear: z.number().optional() })
const plain = {
  shape: z.string().max(1000),
  surfaces: z.array(z.object({ group, name: z.string(), material, start: z.number(), count: z.number() })).max(10_000),
  box: z.tuple([z.number(), z.number(), z.number(), z.number(), z.number(), z.number()]),
  shards: z.boolean().optional(),
}
const look = z.object({
  key: z.string().max(1000),
  mesh: z.object({
    ...plain,
    positions: z.instanceof(Float32Array),
    normals: z.instanceof(Int16Array),
    indices: z.instanceof(Uint32Array),
    letters: z.instanceof(Int32Array),
  }),
})

/** A look from outside, checked so that it can be shown; undefined when it is none, or of an older form. */
export function readLook(value: unknown): Look | undefined {
  const parsed = look.safeParse(value)
  if (!parsed.success) return undefined
  const { mesh } = parsed.data
  const vertices = mesh.positions.length / 3
  const fits = mesh.normals.length === mesh.positions.length && mesh.letters.length === mesh.indices.length / 3
  return fits && mesh.indices.every((v) => v < vertices) ? parsed.data : undefined
}

const head = z.object({ key: look.shape.key, ...plain, vertices: z.number().int().nonnegative(), triangles: z.number().int().nonnegative() })

/** A look as bytes: the length of a JSON head, the head, and its arrays one behind another, each from a multiple of four bytes. Little endian. */
export function packLook({ key, mesh }: Look): Uint8Array {
  const { shape, surfaces, box, shards, positions, normals, indices, letters } = mesh
  const text = JSON.stringify({ key, shape, surfaces, box, shards, vertices: positions.length / 3, triangles: letters.length })
  const headed = new TextEncoder().encode(text)
  const arrays = [positions, indices, letters, normals]
  const start = 4 + 4 * Math.ceil(headed.length / 4)
  const bytes = new Uint8Array(arrays.reduce((sum, array) => sum + array.byteLength, start))
  new DataView(bytes.buffer).setUint32(0, headed.length, true)
  bytes.set(headed, 4)
  let at = start
  for (const array of arrays) {
    bytes.set(new Uint8Array(array.buffer, array.byteOffset, array.byteLength), at)
    at += array.byteLength
  }
  return bytes
}

/** The look in such bytes; undefined when it is none. */
export function unpackLook(bytes: Uint8Array): Look | undefined {
  if (bytes.length < 4) return undefined
  const length = new DataView(bytes.buffer, bytes.byteOffset).getUint32(0, true)
  if (length > bytes.length - 4) return undefined
  let value: unknown
  try {
    value = JSON.parse(new TextDecoder().decode(bytes.subarray(4, 4 + length)))
  } catch {
    return undefined
  }
  const parsed = head.safeParse(value)
  if (!parsed.success) return undefined
  const { key, vertices, triangles, ...mesh } = parsed.data
  let at = 4 + 4 * Math.ceil(length / 4)
  if (bytes.length !== at + 18 * vertices + 16 * triangles) return undefined
  const next = (size: number) => bytes.slice(at, (at += size)).buffer
  return readLook({
    key,
    mesh: {
      ...mesh,
      positions: new Float32Array(next(12 * vertices)),
      indices: new Uint32Array(next(12 * triangles)),
      letters: new Int32Array(next(4 * triangles)),
      normals: new Int16Array(next(6 * vertices)),
    },
  })
}
