import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { workerBakes } from '@/workers/bakes'

/** A server of bakes that can be away, and a browser's store. */
const server = new Map<string, Uint8Array>()
const waiting = new Map<string, Uint8Array>()
let away: 'no' | 'gone' | 'failing' = 'no'
const projects: (string | null)[] = []
const path = (of: string | URL | Request) => new URL(of instanceof Request ? of.url : of, 'http://127.0.0.1').pathname

beforeEach(() => {
  server.clear()
  waiting.clear()
  away = 'no'
  vi.stubGlobal('fetch', async (at: string, options?: RequestInit) => {
    projects.push(new Headers(options?.headers).get('x-kelvar-project'))
    if (away === 'gone') throw new TypeError('not there')
    if (away === 'failing') return new Response(null, { status: 503 })
    const key = path(at)
    if (options?.method === 'PUT') {
      server.set(key, new Uint8Array(await new Response(options.body).arrayBuffer()))
      return new Response(null, { status: 204 })
    }
    const bytes = server.get(key)
    return bytes ? new Response(bytes as BodyInit) : new Response(null, { status: 204 })
  })
  vi.stubGlobal('caches', {
    open: async () => ({
      match: async (at: string) => {
        const bytes = waiting.get(path(at))
        return bytes && new Response(bytes as BodyInit)
      },
      put: async (at: string, response: Response) => void waiting.set(path(at), new Uint8Array(await response.arrayBuffer())),
      delete: async (at: string) => waiting.delete(path(at)),
      keys: async () => [...waiting.keys()].map((at) => ({ url: `http://127.0.0.1${at}` })),
    }),
  })
})
afterEach(() => vi.unstubAllGlobals())

describe('a worker’s bakes', () => {
  it.each(['gone', 'failing'] as const)('wait in the browser while the server is %s, and are given to it when they are read', async (how) => {
    away = how
    await workerBakes().write('jelly-1', Uint8Array.of(1, 2, 3))
    await workerBakes().write('jelly-2-p0', Uint8Array.of(4))
    expect(await workerBakes().read('jelly-1')).toEqual(Uint8Array.of(1, 2, 3))
    expect(await workerBakes().read('jelly-3')).toBeUndefined()
    away = 'no'
    expect(server.size).toBe(0)
    expect(await workerBakes().read('jelly-1')).toEqual(Uint8Array.of(1, 2, 3))
    expect(server.get('/api/bakes/jelly-1')).toEqual(Uint8Array.of(1, 2, 3))
    expect([...waiting.keys()]).toEqual(['/api/bakes/jelly-2-p0'])
    // what is whole needs no parts
    await workerBakes().write('jelly-2', Uint8Array.of(5))
    expect(waiting.size).toBe(0)
  })

  it('say which project they are for, where they are for one', async () => {
    projects.length = 0
    await workerBakes('a-project').write('jelly-1', Uint8Array.of(1))
    await workerBakes('a-project').read('jelly-1')
    await workerBakes().read('jelly-1')
    expect(projects).toEqual(['a-project', 'a-project', null])
  })

  it('are on the server alone while it is there, and do without a store', async () => {
    await workerBakes().write('jelly-1', Uint8Array.of(1))
    expect([server.size, waiting.size]).toEqual([1, 0])
    vi.stubGlobal('caches', undefined)
    away = 'gone'
    await workerBakes().write('jelly-4', Uint8Array.of(1))
    expect(await workerBakes().read('jelly-4')).toBeUndefined()
  })
})
