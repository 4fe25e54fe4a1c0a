import { differences } from '@kelvar/core/project/differences'
import { newProject } from '@kelvar/core/project/new-project'
import type { ProjectDocument } from '@kelvar/core/document/schema'
import { describe, expect, it } from 'vitest'
import { DELETE, GET, PUT } from '@/app/api/projects/[id]/route'
import { POST as putBackAgain } from '@/app/api/projects/[id]/put-back/route'
import { GET as projectPicture, PUT as bringPicture } from '@/app/api/projects/[id]/picture/route'
import { GET as revisions } from '@/app/api/projects/[id]/revisions/route'
import { GET as revision, PATCH } from '@/app/api/projects/[id]/revisions/[revision]/route'
import { GET as picture } from '@/app/api/projects/[id]/revisions/[revision]/picture/route'
import { GET as list } from '@/app/api/projects/route'
import { createProject, saveProject } from '@/server/projects'
import { KEEP_ALL, type RevisionSummary } from '@/server/revisions'
import { openLibrary } from './library'

const library = openLibrary()

const headers = { host: '127.0.0.1:3717', 'x-kelvar': 'test', 'content-type': 'application/json' }
const request = (method: string, body?: unknown, path = '') =>
  new Request(`http://127.0.0.1:3717/api${path}`, { method, headers, ...(body === undefined ? {} : { body: JSON.stringify(body) }) })
const at = (id: string) => ({ params: Promise.resolve({ id }) })
const of = (id: string, of: string) => ({ params: Promise.resolve({ id, revision: of }) })
const listed = async (id: string) => ((await (await revisions(request('GET'), at(id))).json()) as { revisions: RevisionSummary[] }).revisions

/** A new project's document whose Extrude is as deep as that. */
function deep(depth: number): ProjectDocument {
  const document = newProject()
  const step = document.pieces[0].route.find((s) => s.kind === 'extrude')
  if (step) step.params.depth = depth
  return document
}
const PNG = 'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg=='

describe('revisions', () => {
  it('get a first picture from a page that only looks, which makes no revision and so meets no other page', async () => {
    const { id } = await createProject(library.orm.em.fork())
    const bring = (revision: number, png = PNG) => bringPicture(request('PUT', { revision, picture: png }), at(id))
    expect((await bring(1)).status).toBe(204)
    // a second page's, and one of a revision that is no longer the newest, change nothing
    const first = Buffer.from(await (await projectPicture(request('GET'), at(id))).arrayBuffer())
    expect(first.toString('base64')).toBe(PNG)
    await bring(1, `${PNG.slice(0, -4)}AAAA`)
    expect((await PUT(request('PUT', { baseRevision: 1, document: deep(14) }), at(id))).status).toBe(200)
    await bring(1)
    expect((await listed(id)).map(({ number, hasPicture }) => [number, hasPicture])).toEqual([
      [2, false],
      [1, true],
    ])
    expect(Buffer.from(await (await projectPicture(request('GET'), at(id))).arrayBuffer()).equals(first)).toBe(true)
    expect((await bringPicture(request('PUT', { revision: 1, picture: 'text' }), at(id))).status).toBe(422)
    expect((await bringPicture(request('PUT', { revision: 1, picture: PNG }), at('no'))).status).toBe(404)
  })

  it('are kept by every save, with what changed in words and a picture, and can be read again', async () => {
    const { id } = await createProject(library.orm.em.fork())
    await PUT(request('PUT', { baseRevision: 1, document: deep(14), picture: PNG }), at(id))
    await PUT(request('PUT', { baseRevision: 2, document: { ...deep(20), name: 'Gate' } }), at(id))
    const found = await listed(id)
    expect(found.map(({ number, changes, hasPicture, aside }) => ({ number, changes, hasPicture, aside }))).toEqual([
      { number: 3, changes: ['Name of the project “Untitled lettering” → “Gate”', 'Extrude: depth 14 → 20 mm'], hasPicture: false, aside: false },
      { number: 2, changes: ['Extrude: depth 12 → 14 mm'], hasPicture: true, aside: false },
      { number: 1, changes: [], hasPicture: false, aside: false },
    ])
    expect(await (await revision(request('GET'), of(id, found[1].id))).json()).toEqual({ document: deep(14) })
    expect((await picture(request('GET'), of(id, found[1].id))).headers.get('content-type')).toBe('image/png')
    expect((await picture(request('GET'), of(id, found[0].id))).status).toBe(404)
    // a revision is found only in its own project
    const { id: other } = await createProject(library.orm.em.fork())
    expect((await revision(request('GET'), of(other, found[1].id))).status).toBe(404)
    expect((await revision(request('GET'), of(id, 'etc/passwd'))).status).toBe(404)
  })

  it('take a name and lose it; a long one is refused', async () => {
    const { id } = await createProject(library.orm.em.fork())
    const [{ id: first }] = await listed(id)
    expect((await PATCH(request('PATCH', { name: '  As shown to the harbour master ' }), of(id, first))).status).toBe(204)
    expect((await listed(id))[0].name).toBe('As shown to the harbour master')
    expect((await PATCH(request('PATCH', { name: 'x'.repeat(81) }), of(id, first))).status).toBe(422)
    expect((await PATCH(request('PATCH', { name: '' }), of(id, first))).status).toBe(204)
    expect((await listed(id))[0].name).toBeUndefined()
  })

  it('of fifty saves at once over one base accept exactly one, tell the rest, and keep what each of them had', async () => {
    const { id } = await createProject(library.orm.em.fork())
    for (const base of [1, 2]) {
      const answers = await Promise.all(
        Array.from({ length: 50 }, (_, i) => PUT(request('PUT', { baseRevision: base, document: deep(100 * base + i) }), at(id))),
      )
      expect(answers.map((a) => a.status).toSorted()).toEqual([200, ...Array.from({ length: 49 }, () => 409)])
      const told = (await answers.find((a) => a.status === 409)?.json()) as { error: { code: string; remedy: string } }
      expect(told.error).toMatchObject({ code: 'conflict', remedy: expect.stringContaining('Both versions are kept') })
      const winner = answers.findIndex((a) => a.status === 200)
      const opened = (await (await GET(request('GET'), at(id))).json()) as { document: ProjectDocument; revision: number }
      expect(opened).toEqual({ document: deep(100 * base + winner), revision: base + 1 })
    }
    const found = await listed(id)
    expect(found.filter((r) => !r.aside).map((r) => r.number)).toEqual([3, 2, 1])
    const aside = found.filter((r) => r.aside)
    expect(aside.length).toBe(98)
    const depths = await Promise.all(
      found.map(async (r) => {
        const { document } = (await (await revision(request('GET'), of(id, r.id))).json()) as { document: ProjectDocument }
        return Number(document.pieces[0].route.find((s) => s.kind === 'extrude')?.params.depth ?? 12)
      }),
    )
    expect(depths.toSorted((a, b) => a - b)).toEqual([12, ...Array.from({ length: 50 }, (_, i) => 100 + i), ...Array.from({ length: 50 }, (_, i) => 200 + i)])
    // what was set aside says how it differs from what is there instead
    for (const { changes } of aside) expect(changes).toEqual([expect.stringMatching(/^Extrude: depth \d+ → \d+ mm$/)])
  })

  it('are thinned out by the hour beyond the newest, never those with a name', async () => {
    const em = library.orm.em.fork()
    const { id } = await createProject(em)
    const save = async (from: number, to: number) => {
      for (let i = from; i < to; i++) await saveProject(em.fork(), id, i, deep(i + 20))
    }
    await save(1, KEEP_ALL)
    // as if they had been made every ten minutes
    await em.getConnection().execute(`update revision set created_at = now() - (? - number) * interval '10 minutes' where project_id = ?`, [KEEP_ALL + 1, id])
    await em.getConnection().execute('update revision set name = ? where project_id = ? and number = 3', ['First proof', id])
    const count = KEEP_ALL + 60
    await save(KEEP_ALL, count)
    const found = await listed(id)
    expect(found.slice(0, KEEP_ALL).map((r) => r.number)).toEqual(Array.from({ length: KEEP_ALL }, (_, i) => count - i))
    const old = found.slice(KEEP_ALL)
    expect(old.some((r) => r.name === 'First proof')).toBe(true)
    const hours = old.filter((r) => !r.name).map((r) => Math.floor(Date.parse(r.createdAt) / 3_600_000))
    expect(new Set(hours).size).toBe(hours.length)
    expect(hours.length).toBeGreaterThanOrEqual(8)
    expect(hours.length).toBeLessThan(14)
  })
})

describe('removal', () => {
  it('is undone: a removed project leaves the cabinet, comes back whole, and takes no saves meanwhile', async () => {
    const { id } = await createProject(library.orm.em.fork(), deep(17))
    const inCabinet = async (query = '') =>
      ((await (await list(request('GET', undefined, query))).json()) as { projects: { id: string }[] }).projects.some((p) => p.id === id)
    expect((await DELETE(request('DELETE'), at(id))).status).toBe(204)
    expect([await inCabinet(), await inCabinet('?removed')]).toEqual([false, true])
    expect((await GET(request('GET'), at(id))).status).toBe(404)
    expect((await PUT(request('PUT', { baseRevision: 1, document: deep(1) }), at(id))).status).toBe(404)
    expect((await DELETE(request('DELETE'), at(id))).status).toBe(404)
    expect((await putBackAgain(request('POST'), at(id))).status).toBe(204)
    expect((await putBackAgain(request('POST'), at(id))).status).toBe(404)
    expect([await inCabinet(), await inCabinet('?removed')]).toEqual([true, false])
    const opened = (await (await GET(request('GET'), at(id))).json()) as { document: ProjectDocument }
    expect(differences(opened.document, deep(17))).toEqual([])
  })

  it('is for good after thirty days', async () => {
    const em = library.orm.em.fork()
    const { id: old } = await createProject(em)
    await DELETE(request('DELETE'), at(old))
    await em.getConnection().execute(`update project set removed_at = now() - interval '31 days' where id = ?`, [old])
    const { id: other } = await createProject(em)
    await DELETE(request('DELETE'), at(other))
    expect((await putBackAgain(request('POST'), at(old))).status).toBe(404)
    expect(await em.getConnection().execute('select id from revision where project_id = ?', [old])).toEqual([])
    expect((await putBackAgain(request('POST'), at(other))).status).toBe(204)
  })
})
