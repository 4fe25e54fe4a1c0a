import { createStore, del, entries, get, set } from 'idb-keyval'
import { z } from 'zod'
import { meshBytes, type ViewMesh } from '@/workers/view-mesh'

/** Larger meshes are not kept: reading them would take as long as making them. */
const MOST_BYTES = 24 * 1024 * 1024
/** Pieces that are remembered. */
const MOST_LOOKS = 24

/** What a piece last looked like: the mesh and the content key it is of. */
export interface Look {
  readonly key: string
  readonly mesh: ViewMesh
}

const group = z.enum(['face', 'edge', 'return', 'back', 'inside'])
const material = z.object({ colour: z.string(), roughness: z.number(), metalness: z.number(), glow: z.number().optional() })
const stored = z.object({
  key: z.string(),
  at: z.number(),
  mesh: z.object({
    shape: z.string(),
    positions: z.instanceof(Float32Array),
    normals: z.instanceof(Int16Array),
    indices: z.instanceof(Uint32Array),
    letters: z.instanceof(Int32Array),
    surfaces: z.array(z.object({ group, name: z.string(), material, start: z.number(), count: z.number() })),
    box: z.tuple([z.number(), z.number(), z.number(), z.number(), z.number(), z.number()]),
  }),
})

const store = () => createStore('kelvar-looks', 'looks')
const nameOf = (project: string, piece: string) => `${project}/${piece}`

/** What the browser remembers of a piece, so that it can be shown while it is made anew; undefined when it remembers nothing, or nothing sound. */
export async function lastLook(project: string, piece: string): Promise<Look | undefined> {
  const parsed = stored.safeParse(await get(nameOf(project, piece), store()))
  if (!parsed.success) return undefined
  const { mesh } = parsed.data
  const vertices = mesh.positions.length / 3
  if (mesh.normals.length !== mesh.positions.length || mesh.letters.length !== mesh.indices.length / 3 || mesh.indices.some((v) => v >= vertices))
    return undefined
  return parsed.data
}

/** Remembers how a piece looks; of too many the oldest are forgotten. */
export async function rememberLook(project: string, piece: string, { key, mesh }: Look): Promise<void> {
  if (meshBytes(mesh) > MOST_BYTES) return
  await set(nameOf(project, piece), { key, mesh, at: Date.now() }, store())
  const all = (await entries<string, { at?: number }>(store())).sort(([, a], [, b]) => (b.at ?? 0) - (a.at ?? 0))
  for (const [name] of all.slice(MOST_LOOKS)) await del(name, store())
}
