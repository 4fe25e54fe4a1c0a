import { hashBytes } from '@kelvar/core/cache/hash'
import type { Asset, ProjectDocument } from '@kelvar/core/document/schema'
import { createStore, del, entries, get, set } from 'idb-keyval'
import { z } from 'zod'
import { ask } from './server'

/** Files that are made in the page, such as what is brushed, are kept in the browser so long: undo may come back to them. */
const KEPT_DAYS = 14

/** What the page itself makes or takes in. */
const MADE_HERE = ['paint', 'field', 'bake', 'model', 'sound'] as const

const stored = z.object({ bytes: z.instanceof(Uint8Array), type: z.enum(MADE_HERE), name: z.string(), at: z.number() })
const answer = z.object({ sha256: z.string() })

const store = () => createStore('kelvar-assets', 'assets')

/** Keeps a file that the page has made, under its SHA-256; the server gets it with the next save that names it. */
export async function keepLocally(bytes: Uint8Array, type: z.infer<typeof stored>['type'], name: string): Promise<Asset> {
  const sha256 = hashBytes(bytes)
  await set(sha256, { bytes, type, name, at: Date.now() }, store())
  return { sha256, name, type, bytes: bytes.length }
}

/** The bytes of a file that this browser has made; undefined for all others. Also for workers. */
export async function localBytes(sha256: string): Promise<Uint8Array | undefined> {
  const parsed = stored.safeParse(await get(sha256, store()))
  return parsed.success ? parsed.data.bytes : undefined
}

/** The bytes of a file that some browser has made: from this one, or from the server, which has what was saved. */
export const madeBytes = async (sha256: string): Promise<Uint8Array> =>
  (await localBytes(sha256)) ?? new Uint8Array(await (await fetch(`/api/assets/${sha256}`)).arrayBuffer())

const brought = new Set<string>()

/** Brings the server what a document names and only this browser has. Rejects with ServerSays when that cannot be done. */
export async function bringAssets(document: ProjectDocument): Promise<void> {
  for (const { sha256, type } of document.assets) {
    if (brought.has(sha256) || !(MADE_HERE as readonly Asset['type'][]).includes(type)) continue
    const parsed = stored.safeParse(await get(sha256, store()))
    if (parsed.success)
      await ask(`/api/assets?type=${type}`, answer, {
        method: 'POST',
        body: new Blob([parsed.data.bytes as BlobPart]),
        headers: { 'x-file-name': encodeURIComponent(parsed.data.name) },
      })
    brought.add(sha256)
  }
}

/** Forgets what is old by now. */
export async function sweepLocal(): Promise<void> {
  const limit = Date.now() - KEPT_DAYS * 86_400_000
  for (const [sha256, value] of await entries<string, { at?: number }>(store())) if ((value.at ?? 0) < limit) await del(sha256, store())
}
