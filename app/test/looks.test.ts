import { randomUUID } from 'node:crypto'
import { newProject } from '@kelvar/core/project/new-project'
import fc from 'fast-check'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { GET, PUT } from '@/app/api/projects/[id]/looks/[piece]/route'
import { findLook, keepLook } from '@/server/looks'
import { createProject, removeProject } from '@/server/projects'
import { lastLook, rememberLook } from '@/state/last-look'
import { type Look, packLook, unpackLook } from '@/state/look'
import { openLibrary } from './library'

const stores = vi.hoisted(() => new Map<string, unknown>())
vi.mock('idb-keyval', () => ({
  createStore: () => 'looks',
  get: async (key: string) => stores.get(key),
  set: async (key: string, value: unknown) => void stores.set(key, value),
  del: async (key: string) => void stores.delete(key),
  entries: async () => [...stores.entries()],
}))

const library = openLibrary()

const lookOf = (key: string, vertices: number, corners: readonly number[], name = 'face'): Look => ({
  key,
  mesh: {
    shape: `shape-${key}`,
    positions: Float32Array.from({ length: 3 * vertices }, (_, i) => i * 0.37 - 4),
    normals: Int16Array.from({ length: 3 * vertices }, (_, i) => ((i * 7919) % 65_535) - 32_767),
    indices: Uint32Array.from(corners),
    letters: Int32Array.from({ length: corners.length / 3 }, (_, i) => i - 1),
    surfaces: [{ group: 'face', name, material: { colour: '#aabbcc', roughness: 0.4, metalness: 1, glow: 0.5 }, start: 0, count: corners.length }],
    box: [-4, -4, -4, 9, 9, 9],
  },
})

const anyLook = fc
  .tuple(fc.string({ maxLength: 40, unit: 'grapheme' }), fc.integer({ min: 1, max: 12 }), fc.integer({ min: 0, max: 9 }), fc.infiniteStream(fc.nat(1000)))
  .map(([name, vertices, triangles, numbers]) =>
    lookOf(
      name,
      vertices,
      Array.from({ length: 3 * triangles }, () => (numbers.next().value as number) % vertices),
      name,
    ),
  )

describe('a look as bytes', () => {
  it('comes back the same, whatever its name and size', () => {
    fc.assert(
      fc.property(anyLook, (look) => {
        expect(unpackLook(packLook(look))).toEqual(look)
      }),
    )
  })

  it('is none when it is cut short, too long, or its numbers do not fit', () => {
    fc.assert(
      fc.property(anyLook, fc.nat(), fc.nat(255), (look, at, value) => {
        const bytes = packLook(look)
        expect(unpackLook(bytes.subarray(0, at % bytes.length))).toBeUndefined()
        expect(unpackLook(Uint8Array.from([...bytes, 0]))).toBeUndefined()
        const changed = bytes.slice()
        changed[at % bytes.length] = value
        const read = unpackLook(changed)
        // whatever is still read can be shown
        if (read) expect(read.mesh.indices.every((v) => v < read.mesh.positions.length / 3)).toBe(true)
      }),
      { numRuns: 300 },
    )
    expect(unpackLook(packLook(lookOf('x', 3, [0, 1, 3])))).toBeUndefined()
    for (const bytes of [[], [1, 2, 3], [255, 255, 255, 255], [2, 0, 0, 0, 123, 125]]) expect(unpackLook(Uint8Array.from(bytes))).toBeUndefined()
  })
})

describe('the library’s looks', () => {
  const headers = { host: '127.0.0.1:3717', 'x-kelvar': 'test' }
  const at = (id: string, piece: string) => ({ params: Promise.resolve({ id, piece }) })
  const put = (id: string, piece: string, bytes: Uint8Array) =>
    PUT(new Request('http://127.0.0.1:3717/', { method: 'PUT', headers, body: bytes as BodyInit }), at(id, piece))
  const get = (id: string, piece: string) => GET(new Request('http://127.0.0.1:3717/', { headers }), at(id, piece))

  it('are kept piece by piece, the last ones, and only of projects that are there', async () => {
    const { id } = await createProject(library.orm.em.fork(), newProject('Looked at'))
    const bytes = packLook(lookOf('a', 3, [0, 1, 2]))
    expect((await get(id, 'one')).status).toBe(204)
    expect((await put(id, 'one', bytes)).status).toBe(204)
    expect(new Uint8Array(await (await get(id, 'one')).arrayBuffer())).toEqual(bytes)
    const newer = packLook(lookOf('b', 3, [0, 1, 2]))
    await put(id, 'one', newer)
    expect(new Uint8Array(await (await get(id, 'one')).arrayBuffer())).toEqual(newer)
    for (let i = 0; i < 30; i++) expect((await put(id, `piece ${i}`, bytes)).status).toBe(204)
    expect([(await get(id, 'one')).status, (await get(id, 'piece 3')).status, (await get(id, 'piece 29')).status]).toEqual([204, 204, 200])
    expect((await put(id, 'one', Uint8Array.of(1, 2, 3))).status).toBe(422)
    expect((await put(id, 'x'.repeat(81), bytes)).status).toBe(404)
    expect((await put('7e51a0de-0000-4000-8000-00000000beef', 'one', bytes)).status).toBe(404)
    expect((await put(id, 'one', new Uint8Array(9 * 1024 * 1024))).status).toBe(413)
    await removeProject(library.orm.em.fork(), id)
    expect([(await get(id, 'piece 29')).status, (await put(id, 'piece 29', bytes)).status]).toEqual([204, 404])
  })
})

describe('a new project', () => {
  const looks = async (id: string) => {
    const found: Record<string, string | undefined> = {}
    for (const piece of ['words-1', 'other']) {
      const bytes = await findLook(library.orm.em.fork(), id, piece)
      found[piece] = bytes && unpackLook(Uint8Array.from(bytes))?.key
    }
    return found
  }
  const keep = (id: string, piece: string, key: string) => keepLook(library.orm.em.fork(), id, piece, packLook(lookOf(key, 3, [0, 1, 2])))

  it('begins with the look of one that has the very same pieces, whatever it is called, and keeps its own from then on', async () => {
    const document = newProject('Of its own kind')
    // the library of the runs before is still there
    document.pieces[0].name = `Twin of none yet, ${randomUUID()}`
    const first = await createProject(library.orm.em.fork(), document)
    expect(await looks(first.id)).toEqual({})
    await keep(first.id, 'words-1', 'one')
    await keep(first.id, 'other', 'two')
    const second = await createProject(library.orm.em.fork(), { ...document, name: 'Its copy' })
    // that of the piece it opens with
    expect(await looks(second.id)).toEqual({ 'words-1': 'one' })
    await keep(second.id, 'words-1', 'three')
    expect(await looks(first.id)).toEqual({ 'words-1': 'one', other: 'two' })
    const [piece] = document.pieces
    const other = await createProject(library.orm.em.fork(), { ...document, pieces: [{ ...piece, name: `Of another name, ${randomUUID()}` }] })
    expect(await looks(other.id)).toEqual({})
  })
})

describe('a browser that has not seen a piece', () => {
  const sent: { url: string; method: string; bytes: Uint8Array }[] = []
  let answer: () => Response
  beforeEach(() => {
    stores.clear()
    sent.length = 0
    answer = () => new Response(null, { status: 204 })
    vi.stubGlobal('fetch', async (url: string, init?: { method?: string; body?: Uint8Array }) => {
      sent.push({ url, method: init?.method ?? 'GET', bytes: init?.body ?? new Uint8Array() })
      return answer()
    })
  })
  afterEach(() => vi.unstubAllGlobals())

  it('takes its look from the library, and brings it what changed, once', async () => {
    const look = lookOf('first', 3, [0, 1, 2])
    answer = () => new Response(packLook(look) as BodyInit)
    expect(await lastLook('p', 'a b')).toEqual(look)
    expect(sent.map(({ url, method }) => `${method} ${url}`)).toEqual(['GET /api/projects/p/looks/a%20b'])
    answer = () => new Response(null, { status: 204 })
    await rememberLook('p', 'a b', look)
    expect(sent).toHaveLength(1)
    // from here on it knows it itself
    expect(await lastLook('p', 'a b')).toMatchObject(look)
    expect(sent).toHaveLength(1)
    const changed = lookOf('second', 3, [0, 2, 1])
    await rememberLook('p', 'a b', changed)
    await rememberLook('p', 'a b', changed)
    expect(sent.slice(1).map(({ method, bytes }) => [method, unpackLook(bytes)?.key])).toEqual([['PUT', 'second']])
  })

  it('goes on without it when the server is away or has none, and brings it later', async () => {
    answer = () => {
      throw new TypeError('failed to fetch')
    }
    expect(await lastLook('p', 'away')).toBeUndefined()
    await rememberLook('p', 'away', lookOf('x', 3, [0, 1, 2]))
    answer = () => new Response('{}', { status: 500 })
    await rememberLook('p', 'away', lookOf('x', 3, [0, 1, 2]))
    answer = () => new Response(null, { status: 204 })
    await rememberLook('p', 'away', lookOf('x', 3, [0, 1, 2]))
    await rememberLook('p', 'away', lookOf('x', 3, [0, 1, 2]))
    expect(sent.filter((s) => s.method === 'PUT')).toHaveLength(3)
  })
})
