import type { BakeStore } from '@kelvar/core/cache/bakes'

/** Recordings of simulations as a worker gets and leaves them: on the server. What is not to be had just now is recorded anew. */
export const workerBakes: BakeStore = {
  async read(key) {
    const response = await fetch(`/api/bakes/${key}`).catch(() => undefined)
    if (response?.status !== 200) return undefined
    return new Uint8Array(await response.arrayBuffer())
  },
  async write(key, bytes) {
    await fetch(`/api/bakes/${key}`, { method: 'PUT', body: bytes as BlobPart as Blob, headers: { 'content-type': 'application/octet-stream' } }).catch(
      () => {},
    )
  },
}
