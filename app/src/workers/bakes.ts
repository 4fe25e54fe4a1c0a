import { type BakeStore, isPartKey } from '@kelvar/core/cache/bakes'

/** What the server could not be given lies in the browser meanwhile, under this name. */
const WAITING = 'kelvar-bakes'

const address = (key: string) => `/api/bakes/${key}`

/** Recordings of simulations as a worker gets and leaves them for a project: on the server, or here while that is away. What is not to be had just now is recorded anew. */
export const workerBakes = (project?: string): BakeStore => ({
  async read(key) {
    const response = await fetch(address(key), { headers: own(project) }).catch(() => undefined)
    if (response?.status === 200) return new Uint8Array(await response.arrayBuffer())
    const waiting = await inBrowser((cache) => cache.match(address(key)))
    if (!waiting) return undefined
    const bytes = new Uint8Array(await waiting.arrayBuffer())
    // it is there again
    if (response) await this.write(key, bytes)
    return bytes
  },
  async write(key, bytes) {
    const body = bytes as BlobPart as Blob
    const headers = { 'content-type': 'application/octet-stream', ...own(project) }
    const response = await fetch(address(key), { method: 'PUT', body, headers }).catch(() => undefined)
    if (!response || response.status >= 500) await inBrowser((cache) => cache.put(address(key), new Response(body)))
    else await inBrowser((cache) => forget(cache, key))
  },
})

/** Says which project it is for, so that it travels with that. */
const own = (project: string | undefined): Record<string, string> => (project ? { 'x-kelvar-project': project } : {})

/** What the server has, and the parts of what is whole, need not wait any more. */
async function forget(cache: Cache, key: string): Promise<void> {
  await cache.delete(address(key))
  if (isPartKey(key)) return
  for (const { url } of await cache.keys()) if (url.includes(`${address(key)}-p`)) await cache.delete(url)
}

/** Runs with the browser's own store; undefined where it has none or it is full. */
async function inBrowser<T>(run: (cache: Cache) => Promise<T>): Promise<T | undefined> {
  try {
    return await run(await caches.open(WAITING))
  } catch {
    return undefined
  }
}
