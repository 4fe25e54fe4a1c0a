import { randomUUID } from 'node:crypto'
import { newProject } from '@kelvar/core/project/new-project'
import { encode } from 'fast-png'
import { describe, expect, it } from 'vitest'
import { POST as addProfile, GET as listProfiles } from '@/app/api/profiles/route'
import { GET as revisionPicture } from '@/app/api/projects/[id]/revisions/[revision]/picture/route'
import { GET as openRevision, PATCH as nameRevision } from '@/app/api/projects/[id]/revisions/[revision]/route'
import { GET as listRevisions } from '@/app/api/projects/[id]/revisions/route'
import { POST as putBack } from '@/app/api/projects/[id]/put-back/route'
import { DELETE as removeProject, GET as openProject, PUT as saveProject } from '@/app/api/projects/[id]/route'
import { GET as listProjects, POST as addProject } from '@/app/api/projects/route'
import { atTheDoor } from '@/server/door'
import { Revision } from '@/server/entities'
import { withDatabase } from '@/server/http'
import { createProject, saveProject as save } from '@/server/projects'
import { openLibrary } from './library'

const library = openLibrary()
const local = { host: '127.0.0.1:3717' }
const own = { ...local, 'x-kelvar': 'test' }
const at = <P extends object>(params: P) => ({ params: Promise.resolve(params) })
const json = (method: string, body: unknown, headers: Record<string, string> = own) =>
  new Request('http://127.0.0.1:3717/api', { method, headers, body: typeof body === 'string' ? body : JSON.stringify(body) })
const get = (headers: Record<string, string> = own) => new Request('http://127.0.0.1:3717/api', { headers })
const errorOf = async (response: Response) => ((await response.json()) as { error: { code: string; message: string } }).error

describe('the door', () => {
  it('lets nobody in who calls this machine by another name, whatever the path', () => {
    for (const url of ['/', '/project/x', '/api/projects', '/_next/static/x.js', '/icon.svg']) {
      for (const host of [
        'evil.example',
        '127.0.0.1.evil.example',
        'localhost.evil.example:3717',
        '10.0.0.7:3717',
        '',
        undefined,
        '127.0.0.1:3717@evil.example',
      ])
        expect(atTheDoor({ method: 'GET', url, host })?.status).toBe(403)
      for (const host of ['127.0.0.1', '127.0.0.1:3717', 'localhost:3717', '[::1]:3717']) expect(atTheDoor({ method: 'GET', url, host })).toBeUndefined()
    }
  })

  it('turns away what cannot be read, plainly and without a page', () => {
    for (const [method, url, status] of [
      ['TRACE', '/', 405],
      ['CONNECT', '/', 405],
      ['PROPFIND', '/', 405],
      ['GET', '/%', 400],
      ['GET', '/%E0%A4%A', 400],
      ['GET', '/a%00b', 400],
      ['GET', '/a%0d%0aset-cookie:x', 400],
      ['GET', 'http://elsewhere/', 400],
    ] as const) {
      const away = atTheDoor({ method, url, host: '127.0.0.1:3717' })
      expect(away?.status, url).toBe(status)
      expect(away?.headers).toMatchObject({ 'content-security-policy': expect.stringContaining("default-src 'none'"), 'cache-control': 'no-store' })
      expect(away?.text).toMatch(/\.\n$/)
    }
    for (const method of ['GET', 'HEAD', 'POST', 'PUT', 'PATCH', 'DELETE', 'OPTIONS'])
      expect(atTheDoor({ method, url: '/x?y=%20', host: 'localhost' })).toBeUndefined()
  })
})

describe('a request that changes something', () => {
  it('says where it comes from: by its origin, by the browser’s own word, or by a header no other site can send', async () => {
    const status = async (headers: Record<string, string>) => (await addProject(json('POST', {}, { ...local, ...headers }))).status
    expect(await status({ origin: 'http://127.0.0.1:3717' })).toBe(201)
    expect(await status({ 'sec-fetch-site': 'same-origin' })).toBe(201)
    expect(await status({ 'x-kelvar': '1' })).toBe(201)
    expect(await status({})).toBe(403)
    for (const site of ['cross-site', 'same-site', 'none']) expect(await status({ 'sec-fetch-site': site })).toBe(403)
    // an origin is believed before anything else
    expect(await status({ origin: 'http://evil.example', 'x-kelvar': '1', 'sec-fetch-site': 'same-origin' })).toBe(403)
    expect((await listProjects(get(local))).status).toBe(200)
  })

  it('is answered with what is not to be kept', async () => {
    for (const response of [await listProjects(get()), await addProject(json('POST', '{')), await addProject(json('POST', {}, local))])
      expect(response.headers.get('cache-control')).toBe('no-store')
  })
})

describe('a text that cannot be kept', () => {
  const half = '\ud83d'
  const bad = [`Sign ${half}`, 'Sign\0', `${'\ude00'}Sign`]

  it('is answered with its place, and never as a lost library', async () => {
    const { id } = await createProject(library.orm.em.fork())
    for (const text of bad) {
      const document = structuredClone(newProject()) as { name: string; pieces: { name: string; route: { params: Record<string, unknown> }[] }[] }
      document.pieces[0].route[0].params.text = text
      const answers = {
        save: await saveProject(json('PUT', { baseRevision: 1, document }), at({ id })),
        project: await addProject(json('POST', { document })),
        profile: await addProfile(json('POST', { name: text, drawn: { closed: false, nodes: [] } })),
        name: await nameRevision(json('PATCH', { name: text }), at({ id, revision: randomUUID() })),
      }
      for (const [what, answer] of Object.entries(answers)) {
        expect(answer.status, what).toBe(400)
        const { code, message } = await errorOf(answer)
        expect(code).toBe('malformed')
        expect(message).toContain(what === 'save' || what === 'project' ? 'document.pieces.0.route.0.params.text' : 'name')
      }
    }
    expect(((await (await openProject(get(), at({ id }))).json()) as { revision: number }).revision).toBe(1)
  })

  it('nor what is nested without end', async () => {
    const { id } = await createProject(library.orm.em.fork())
    const document = JSON.stringify(newProject())
    for (const depth of [150, 3000, 100_000]) {
      const body = `{"baseRevision":1,"document":${document.replace('"params":{', `"params":{"x":${'['.repeat(depth)}${']'.repeat(depth)},`)}}`
      expect((await saveProject(json('PUT', body), at({ id }))).status).toBe(400)
    }
  })
})

describe('a save', () => {
  it('over a revision that is not there yet is refused, and nothing is set aside', async () => {
    const { id } = await createProject(library.orm.em.fork())
    for (const baseRevision of [2, 1000, 2 ** 31 - 1]) {
      const answer = await saveProject(json('PUT', { baseRevision, document: newProject() }), at({ id }))
      expect(answer.status).toBe(422)
      expect((await errorOf(answer)).code).toBe('ahead')
    }
    for (const baseRevision of [2 ** 31, 2 ** 53, 1e300, 0, -1, 1.5])
      expect((await saveProject(json('PUT', { baseRevision, document: newProject() }), at({ id }))).status).toBe(422)
    expect(await library.orm.em.fork().count(Revision, { projectId: id })).toBe(1)
  })

  it('brings a picture that is one', async () => {
    const { id } = await createProject(library.orm.em.fork())
    const picture = (bytes: Uint8Array) => Buffer.from(bytes).toString('base64')
    const png = encode({ width: 40, height: 30, channels: 4, data: new Uint8Array(4800) })
    const begins = new Uint8Array([...png.subarray(0, 60), ...new TextEncoder().encode('<script>alert(1)</script>')])
    for (const [bytes, status] of [
      [begins, 422],
      [png.subarray(0, 50), 422],
      [encode({ width: 2000, height: 1, channels: 4, data: new Uint8Array(8000) }), 422],
      [png, 200],
    ] as const)
      expect((await saveProject(json('PUT', { baseRevision: 1, document: newProject(), picture: picture(bytes) }), at({ id }))).status).toBe(status)
  })

  it('that nobody ever saw accepted is not thinned out for a month, and last after that', async () => {
    const em = () => library.orm.em.fork()
    const { id } = await createProject(em())
    await save(em(), id, 1, newProject('two'))
    for (let i = 0; i < 113; i++) await save(em(), id, 1, newProject(`aside ${i}`))
    expect(await em().count(Revision, { projectId: id, aside: true })).toBe(113)
    // a month and a day later, when the next one is set aside
    await em().nativeUpdate(Revision, { projectId: id, aside: true }, { createdAt: new Date(Date.now() - 31 * 86_400_000) })
    await save(em(), id, 1, newProject('another'))
    const left = await em().count(Revision, { projectId: id, aside: true })
    expect(left).toBeGreaterThanOrEqual(100)
    expect(left).toBeLessThan(114)
  }, 60_000)
})

describe('a removed project', () => {
  it('shows none of its revisions until it is put back', async () => {
    const png = Buffer.from(encode({ width: 4, height: 4, channels: 4, data: new Uint8Array(64) }))
    const { id } = await createProject(library.orm.em.fork(), newProject('Kept'), { picture: png })
    const revision = (await library.orm.em.fork().findOneOrFail(Revision, { projectId: id })).id
    const looks = async () => [
      (await openRevision(get(), at({ id, revision }))).status,
      (await revisionPicture(get(), at({ id, revision }))).status,
      (await nameRevision(json('PATCH', { name: 'Mine' }), at({ id, revision }))).status,
      ((await (await listRevisions(get(), at({ id }))).json()) as { revisions?: unknown[] }).revisions?.length ?? 0,
    ]
    expect(await looks()).toEqual([200, 200, 204, 1])
    await removeProject(new Request('http://127.0.0.1:3717/', { method: 'DELETE', headers: own }), at({ id }))
    expect(await looks()).toEqual([404, 404, 404, 0])
    await putBack(new Request('http://127.0.0.1:3717/', { method: 'POST', headers: own }), at({ id }))
    expect(await looks()).toEqual([200, 200, 204, 1])
  })
})

describe('profiles', () => {
  it('of one name are one, however many come at once', async () => {
    const node = (x: number, y: number) => ({ x, y, kind: 'corner' })
    const { profiles: before } = (await (await listProfiles(get())).json()) as { profiles: { name: string; drawn: { nodes: unknown[] } }[] }
    const drawn = before[0]?.drawn ?? { closed: false, nodes: [node(0, 0), node(2, 2)] }
    const name = `Cove ${Math.random()}`
    const answers = await Promise.all(Array.from({ length: 8 }, () => addProfile(json('POST', { name, drawn }))))
    expect(answers.map((a) => a.status)).toEqual(new Array(8).fill(201))
    const ids = await Promise.all(answers.map(async (a) => ((await a.json()) as { id: string }).id))
    expect(new Set(ids).size).toBe(1)
    const { profiles } = (await (await listProfiles(get())).json()) as { profiles: { name: string }[] }
    expect(profiles.filter((p) => p.name === name)).toHaveLength(1)
  })
})

describe('what fails inside', () => {
  const answer = async (error: unknown) => {
    const { error: log } = console
    console.error = () => {}
    try {
      const response = await withDatabase(get(), () => Promise.reject(error))
      return [response.status, (await errorOf(response)).code]
    } finally {
      console.error = log
    }
  }

  it('is called what it is: only a lost connection is a lost library', async () => {
    const coded = (code: string) => Object.assign(new Error('inside'), { code })
    for (const code of ['ECONNREFUSED', '57P01', '08006', '53300'])
      expect(await answer(new Error('query failed', { cause: coded(code) }))).toEqual([503, 'unavailable'])
    for (const code of ['ENOSPC', '53100']) expect(await answer(coded(code))).toEqual([507, 'disk-full'])
    for (const error of [new TypeError('x is undefined'), coded('22P05'), coded('23505'), 'text', undefined])
      expect(await answer(error)).toEqual([500, 'fault'])
  })
})
