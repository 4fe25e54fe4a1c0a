import { createStore, del, entries, get, set } from 'idb-keyval'
import { meshBytes, shownTriangles } from '@/workers/view-mesh'
import { type Look, lookAddress, lookOf, MOST_LOOK_SENT, MOST_LOOK_TRIANGLES, packLook, readLook, unpackLook } from './look'

/** Larger meshes are not kept: reading them would take as long as making them. */
const MOST_BYTES = 24 * 1024 * 1024
/** Pieces that are remembered. */
const MOST_LOOKS = 24

const store = () => createStore('kelvar-looks', 'looks')
const nameOf = (project: string, piece: string) => `${project}/${piece}`

/** The keys of the looks that the library has, as far as this page knows. */
const known = new Map<string, string>()

/**
 * What is remembered of a piece, so that it can be shown while it is made anew: by this browser, or else by the library. Undefined when neither
 * remembers anything sound.
 */
export async function lastLook(project: string, piece: string): Promise<Look | undefined> {
  const own = readLook(await get(nameOf(project, piece), store()))
  if (own) return own
  const response = await fetch(lookAddress(project, piece)).catch(() => undefined)
  if (!response?.ok) return undefined
  const look = unpackLook(new Uint8Array(await response.arrayBuffer()))
  if (look) known.set(nameOf(project, piece), look.key)
  return look
}

/** Remembers how a piece looks, here and in the library; of too many the oldest are forgotten. */
export async function rememberLook(project: string, piece: string, shown: Look): Promise<void> {
  if (shownTriangles(shown.mesh) > MOST_LOOK_TRIANGLES) return
  const look = lookOf(shown)
  const size = meshBytes(look.mesh)
  if (size > MOST_BYTES) return
  const name = nameOf(project, piece)
  await set(name, { ...look, at: Date.now() }, store())
  const all = (await entries<string, { at?: number }>(store())).sort(([, a], [, b]) => (b.at ?? 0) - (a.at ?? 0))
  for (const [old] of all.slice(MOST_LOOKS)) await del(old, store())
  if (size > MOST_LOOK_SENT || known.get(name) === look.key) return
  known.set(name, look.key)
  const response = await fetch(lookAddress(project, piece), { method: 'PUT', body: packLook(look) as BodyInit }).catch(() => undefined)
  // the server may be away: the next time it stands it is sent again
  if (!response?.ok) known.delete(name)
}
