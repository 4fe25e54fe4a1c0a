import { hashBytes } from '@kelvar/core/cache/hash'
import { newProject } from '@kelvar/core/project/new-project'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { lastLook, rememberLook } from '@/state/last-look'
import { bringAssets, keepLocally, localBytes, sweepLocal } from '@/state/local-assets'
import type { ViewMesh } from '@/workers/view-mesh'

// the browser's store, as the page sees it
const stores = vi.hoisted(() => new Map<string, Map<string, unknown>>())
vi.mock('idb-keyval', () => ({
  createStore: (name: string) => {
    if (!stores.has(name)) stores.set(name, new Map())
    return stores.get(name)
  },
  get: async (key: string, store: Map<string, unknown>) => store.get(key),
  set: async (key: string, value: unknown, store: Map<string, unknown>) => void store.set(key, structuredClone(value)),
  del: async (key: string, store: Map<string, unknown>) => void store.delete(key),
  entries: async (store: Map<string, unknown>) => [...store.entries()],
}))

let sent: { url: string; name: string; bytes: Uint8Array }[]
let status: number

beforeEach(() => {
  vi.useFakeTimers()
  stores.clear()
  sent = []
  status = 201
  vi.stubGlobal('fetch', async (url: string, init: RequestInit) => {
    const bytes = new Uint8Array(await (init.body as Blob).arrayBuffer())
    sent.push({ url, name: decodeURIComponent(new Headers(init.headers).get('x-file-name') ?? ''), bytes })
    return status === 201
      ? Response.json({ sha256: hashBytes(bytes) }, { status })
      : Response.json({ error: { code: 'full', message: 'The project is full.', remedy: 'Remove files.' } }, { status })
  })
})
afterEach(() => {
  vi.unstubAllGlobals()
  vi.useRealTimers()
})

const bytesOf = (text: string) => new TextEncoder().encode(text)

describe('files that are made in the page', () => {
  it('are had at once under their hash, and brought to the server once, with what names them', async () => {
    const asset = await keepLocally(bytesOf('touches'), 'paint', 'Smooth: Wörter')
    expect(asset).toMatchObject({ sha256: hashBytes(bytesOf('touches')), type: 'paint', bytes: 7 })
    expect(await localBytes(asset.sha256)).toEqual(bytesOf('touches'))
    const document = { ...newProject(), assets: [asset] }
    await bringAssets(document)
    await bringAssets(document)
    expect(sent).toEqual([{ url: '/api/assets?type=paint', name: 'Smooth: Wörter', bytes: bytesOf('touches') }])
  })

  it('are brought again after the server would not have them', async () => {
    const document = { ...newProject(), assets: [await keepLocally(bytesOf('refused at first'), 'paint', 'x')] }
    status = 413
    await expect(bringAssets(document)).rejects.toThrow()
    status = 201
    await bringAssets(document)
    expect(sent).toHaveLength(2)
  })

  it('that another browser has made, or that came as files, are none of its business', async () => {
    const sha256 = hashBytes(bytesOf('elsewhere'))
    const kept = await keepLocally(bytesOf('a font'), 'model', 'm')
    await bringAssets({
      ...newProject(),
      assets: [
        { sha256, name: 'elsewhere', type: 'paint', bytes: 9 },
        { ...kept, type: 'font' },
      ],
    })
    expect(sent).toEqual([])
    expect(await localBytes(sha256)).toBeUndefined()
  })

  it('are forgotten after a fortnight, and damaged ones are not taken', async () => {
    const old = await keepLocally(bytesOf('old'), 'paint', 'old')
    vi.advanceTimersByTime(13 * 86_400_000)
    const young = await keepLocally(bytesOf('young'), 'paint', 'young')
    vi.advanceTimersByTime(2 * 86_400_000)
    await sweepLocal()
    expect(await localBytes(old.sha256)).toBeUndefined()
    expect(await localBytes(young.sha256)).toEqual(bytesOf('young'))
    stores.get('kelvar-assets')?.set(young.sha256, { bytes: 'not bytes', type: 'paint', name: 'x', at: 0 })
    expect(await localBytes(young.sha256)).toBeUndefined()
  })
})

describe('what a piece last looked like', () => {
  const mesh = (triangles = 1): ViewMesh => ({
    shape: 'a shape',
    positions: new Float32Array(9),
    normals: new Int16Array(9),
    indices: new Uint32Array(3 * triangles),
    letters: new Int32Array(triangles),
    surfaces: [{ group: 'face', name: 'face', material: { colour: '#ffffff', roughness: 1, metalness: 0 }, start: 0, count: 3 * triangles }],
    box: [0, 0, 0, 1, 1, 1],
  })

  it('is remembered piece by piece', async () => {
    await rememberLook('project', 'one', { key: 'a', mesh: mesh() })
    expect(await lastLook('project', 'one')).toMatchObject({ key: 'a', mesh: mesh() })
    expect(await lastLook('project', 'two')).toBeUndefined()
    expect(await lastLook('another', 'one')).toBeUndefined()
  })

  it('is not taken when it is damaged: an older form, arrays that do not fit, vertices that are not there', async () => {
    const damaged: unknown[] = [
      { ...mesh(), shape: undefined },
      { ...mesh(), normals: new Int16Array(6) },
      { ...mesh(), letters: new Int32Array(2) },
      { ...mesh(), indices: Uint32Array.from([0, 1, 3]) },
      { ...mesh(), box: [0, 0] },
    ]
    for (const [i, of] of damaged.entries()) {
      await rememberLook('project', `${i}`, { key: 'a', mesh: mesh() })
      expect(await lastLook('project', `${i}`)).toBeDefined()
      stores.get('kelvar-looks')?.set(`project/${i}`, { key: 'a', at: 1, mesh: of })
      expect(await lastLook('project', `${i}`)).toBeUndefined()
    }
  })

  it('is not kept of heavy ones, and the oldest give way', async () => {
    await rememberLook('project', 'heavy', { key: 'a', mesh: mesh(2_000_000) })
    expect(await lastLook('project', 'heavy')).toBeUndefined()
    for (let i = 0; i < 30; i++) {
      vi.advanceTimersByTime(1000)
      await rememberLook('project', `${i}`, { key: 'a', mesh: mesh() })
    }
    const kept = await Promise.all(Array.from({ length: 30 }, async (_, i) => (await lastLook('project', `${i}`)) !== undefined))
    expect(kept).toEqual(Array.from({ length: 30 }, (_, i) => i >= 6))
  })
})
