import { newProject } from '@kelvar/core/project/new-project'
import { SHIPPED_FACES } from '@kelvar/core/fonts'
import { describe, expect, it } from 'vitest'
import { GET as getAsset } from '@/app/api/assets/[sha256]/route'
import { DELETE, GET, PUT } from '@/app/api/projects/[id]/route'
import { GET as list, POST } from '@/app/api/projects/route'
import { seedDemo } from '@/server/demo'
import { createProject, findProject, listProjects, saveProject } from '@/server/projects'
import { openLibrary } from './library'

const library = openLibrary()

const request = (method: string, body?: unknown, headers: Record<string, string> = {}) =>
  new Request('http://127.0.0.1:3717/api', {
    method,
    headers: { host: '127.0.0.1:3717', 'x-kelvar': 'test', 'content-type': 'application/json', ...headers },
    ...(body === undefined ? {} : { body: typeof body === 'string' ? body : JSON.stringify(body) }),
  })
const at = (id: string) => ({ params: Promise.resolve({ id }) })
const errorOf = async (response: Response) => ((await response.json()) as { error: { code: string; message: string; remedy: string } }).error

describe('projects', () => {
  it('are made, listed, opened, saved and removed', async () => {
    const made = await POST(request('POST', {}))
    expect(made.status).toBe(201)
    const { id } = (await made.json()) as { id: string }
    const listed = (await (await list(request('GET'))).json()) as { projects: { id: string }[] }
    expect(listed.projects[0].id).toBe(id)
    const opened = (await (await GET(request('GET'), at(id))).json()) as { document: unknown; revision: number }
    expect(opened).toEqual({ document: newProject(), revision: 1 })
    const document = { ...newProject(), name: 'Gate' }
    expect(await (await PUT(request('PUT', { baseRevision: 1, document }), at(id))).json()).toEqual({ revision: 2 })
    expect(((await (await GET(request('GET'), at(id))).json()) as { document: { name: string } }).document.name).toBe('Gate')
    expect((await DELETE(request('DELETE'), at(id))).status).toBe(204)
    expect((await GET(request('GET'), at(id))).status).toBe(404)
  })

  it('are listed up to so many, the last first, and whether those are all of them is told', async () => {
    const made = [await createProject(library.orm.em.fork()), await createProject(library.orm.em.fork())]
    const { projects, all } = await listProjects(library.orm.em.fork())
    expect(all).toBe(true)
    expect(projects.length).toBeGreaterThanOrEqual(2)
    const exactly = await listProjects(library.orm.em.fork(), { most: projects.length })
    expect([exactly.projects.length, exactly.all]).toEqual([projects.length, true])
    const fewer = await listProjects(library.orm.em.fork(), { most: projects.length - 1 })
    expect(fewer).toEqual({ projects: projects.slice(0, -1), all: false })
    for (const { id } of made) await DELETE(request('DELETE'), at(id))
    const removed = await listProjects(library.orm.em.fork(), { removed: true, most: 1 })
    expect(removed.all).toBe(false)
    expect(removed.projects.map(({ id }) => id)).toEqual([made[1].id])
  })

  it('are never overwritten by a save from an older revision, even by many at once', async () => {
    const { id } = await createProject(library.orm.em.fork())
    const results = await Promise.all(Array.from({ length: 20 }, (_, i) => saveProject(library.orm.em.fork(), id, 1, { ...newProject(), name: `Saver ${i}` })))
    expect(results.filter((r) => r.saved).length).toBe(1)
    const winner = results.findIndex((r) => r.saved)
    expect(await findProject(library.orm.em.fork(), id)).toMatchObject({ revision: 2, name: `Saver ${winner}` })
    const late = await PUT(request('PUT', { baseRevision: 1, document: newProject() }), at(id))
    expect(late.status).toBe(409)
    expect(await errorOf(late)).toMatchObject({ code: 'conflict' })
  })

  it('refuse what is no project, and keep what was there', async () => {
    const { id } = await createProject(library.orm.em.fork())
    const bad: [unknown, number, string][] = [
      ['{', 400, 'not-json'],
      [{ baseRevision: 'one', document: {} }, 422, 'invalid'],
      [{ baseRevision: 1, document: { format: 'other' } }, 422, 'not-a-project'],
      [{ baseRevision: 1, document: { ...newProject(), version: 99 } }, 422, 'newer-version'],
      [{ baseRevision: 1, document: newProject(), picture: 'data:text/html' }, 422, 'invalid'],
      [`"${'x'.repeat(9 * 1024 * 1024)}"`, 413, 'too-large'],
    ]
    for (const [body, status, code] of bad) {
      const response = await PUT(request('PUT', body), at(id))
      expect(response.status).toBe(status)
      expect(await errorOf(response)).toMatchObject({ code, remedy: expect.any(String) })
    }
    expect(await findProject(library.orm.em.fork(), id)).toMatchObject({ revision: 1 })
    for (const wrong of ['nonsense', '7e51a0de-0000-4000-8000-0000000000ff']) expect((await GET(request('GET'), at(wrong))).status).toBe(404)
  })

  it('are not read without end when a body does not say how long it is', async () => {
    const { id } = await createProject(library.orm.em.fork())
    let sent = 0
    const endless = new ReadableStream<Uint8Array>({
      pull(controller) {
        sent++
        controller.enqueue(new Uint8Array(1024 * 1024).fill(32))
      },
    })
    const streaming = new Request('http://127.0.0.1:3717/api', {
      method: 'PUT',
      headers: { host: '127.0.0.1:3717', 'x-kelvar': 'test' },
      body: endless,
      duplex: 'half',
    } as RequestInit)
    expect((await PUT(streaming, at(id))).status).toBe(413)
    expect(sent).toBeLessThan(20)
  })

  it('of a newer version are neither shown wrongly nor overwritten', async () => {
    const { id } = await createProject(library.orm.em.fork())
    await library.orm.em.getConnection().execute(`update project set document = jsonb_set(document, '{version}', '99') where id = '${id}'`)
    const response = await GET(request('GET'), at(id))
    expect(response.status).toBe(409)
    expect(await errorOf(response)).toMatchObject({ code: 'newer-version', message: expect.stringContaining('newer Kelvar') })
  })

  it('answer only to the page that this server serves', async () => {
    expect(await errorOf(await list(request('GET', undefined, { host: 'evil.example' })))).toMatchObject({ code: 'host' })
    const foreign = await POST(request('POST', {}, { origin: 'http://evil.example' }))
    expect(foreign.status).toBe(403)
    expect((await POST(request('POST', {}, { origin: 'http://127.0.0.1:3717' }))).status).toBe(201)
  })
})

describe('set-up', () => {
  it('migrates and seeds once, whatever the number of starts', async () => {
    await seedDemo(library.orm.em.fork())
    expect(await seedDemo(library.orm.em.fork())).toEqual([])
    expect(await library.orm.getMigrator().getPendingMigrations()).toEqual([])
  })

  it('serves the shipped faces by SHA-256 and nothing by another name', async () => {
    const get = (sha256: string) => getAsset(request('GET'), { params: Promise.resolve({ sha256 }) })
    const response = await get(SHIPPED_FACES[0].sha256)
    expect(response.status).toBe(200)
    expect((await response.arrayBuffer()).byteLength).toBe(SHIPPED_FACES[0].bytes)
    for (const name of ['0'.repeat(64), '../../etc/passwd', '']) expect((await get(name)).status).toBe(404)
  })
})
