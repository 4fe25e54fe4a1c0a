import { randomBytes } from 'node:crypto'
import { readFile } from 'node:fs/promises'
import { newProject } from '@kelvar/core/project/new-project'
import type { ProjectDocument } from '@kelvar/core/document/schema'
import { hashBytes } from '@kelvar/core/cache/hash'
import { packBake, unpackBake } from '@kelvar/core/format/bake'
import { readProjectFile, writeProjectFile } from '@kelvar/core/format/project-file'
import { SHIPPED_FACES } from '@kelvar/core/fonts'
import { strToU8, zipSync } from 'fflate'
import { describe, expect, it } from 'vitest'
import { GET as GET_BAKE, PUT as PUT_BAKE } from '@/app/api/bakes/[key]/route'
import { GET } from '@/app/api/projects/[id]/file/route'
import { POST } from '@/app/api/projects/file/route'
import { assetBytes } from '@/server/assets'
import { POST as POST_PROJECT } from '@/app/api/projects/route'
import { findBake, noteUse } from '@/server/bakes'
import { Asset, Project } from '@/server/entities'
import { createProject } from '@/server/projects'
import { openLibrary } from './library'

const library = openLibrary()

const headers = { host: '127.0.0.1:3717', 'x-kelvar': 'test' }
const out = (id: string) => GET(new Request('http://127.0.0.1:3717/', { headers }), { params: Promise.resolve({ id }) })
async function into(body: Uint8Array, more: Record<string, string> = {}) {
  const response = await POST(
    new Request('http://127.0.0.1:3717/api/projects/file', { method: 'POST', headers: { ...headers, ...more }, body: body as BodyInit }),
  )
  return { status: response.status, answer: (await response.json()) as { id: string; error: { code: string; message: string; remedy: string } } }
}

/** A face that no library has ever seen: a shipped one with some bytes behind its last table, others each time. */
async function ownFont(): Promise<{ bytes: Uint8Array; sha256: string }> {
  const shipped = await readFile(new URL('../../core/fonts/Knewave-Regular.ttf', import.meta.url))
  const bytes = new Uint8Array([...shipped, ...randomBytes(8)])
  return { bytes, sha256: hashBytes(bytes) }
}

async function withOwnFace(): Promise<{ document: ProjectDocument; bytes: Uint8Array; sha256: string; mark: Uint8Array }> {
  const { bytes, sha256 } = await ownFont()
  const mark = new Uint8Array(await readFile(new URL('../../core/test/mark.svg', import.meta.url)))
  const document = newProject('Taken along')
  document.pieces[0].route[0].params.font = { sha256, name: 'Own face' }
  document.assets.push({ sha256, name: 'Own face', type: 'font', bytes: bytes.length })
  document.assets.push({ sha256: hashBytes(mark), name: 'mark.svg', type: 'vector', bytes: mark.length })
  return { document, bytes, sha256, mark }
}

describe('project files', () => {
  it('carry a face of one’s own to a library that has never seen it, and the project opens there unchanged', async () => {
    const { document, bytes, sha256, mark } = await withOwnFace()
    const [shipped] = SHIPPED_FACES
    const file = await writeProjectFile(
      document,
      new Map([
        [sha256, bytes],
        [hashBytes(mark), mark],
      ]),
    )
    const em = library.orm.em.fork()
    expect(await em.count(Asset, { sha256 })).toBe(0)
    const { status, answer } = await into(file)
    expect(status).toBe(201)
    expect((await em.findOneOrFail(Project, { id: answer.id })).document).toEqual(document)
    const kept = await em.findOneOrFail(Asset, { sha256 }, { populate: ['facts'] })
    expect(hashBytes(await assetBytes(em, sha256))).toBe(sha256)
    expect(kept.facts).toMatchObject({ glyphs: expect.any(Number) })
    // out again: now with the shipped face too, which this library holds
    const taken = await out(answer.id)
    expect(taken.headers.get('content-disposition')).toContain('Taken along.kelvar')
    const again = await readProjectFile(new Uint8Array(await taken.arrayBuffer()))
    if (!again.ok) throw new Error(again.problem.message)
    expect(again.document).toEqual(document)
    expect([...again.assets.keys()].sort()).toEqual([sha256, shipped.sha256, hashBytes(mark)].sort())
  })

  it('carry what their simulations recorded: of each kind of step as many as they have, those used last', async () => {
    const em = library.orm.em.fork()
    const key = (kind: string, n: number) => `${kind}-carried${String(n).padStart(4, '0')}${Date.now().toString(36)}`
    const bake = (n: number) => packBake({ about: { n }, frames: 3, stride: 6, period: 3, values: Float32Array.from({ length: 18 }, (_, i) => i * n) })
    const document = newProject('With recordings')
    const step = (id: string, kind: string) => ({ id, kind, on: true, params: {} })
    document.pieces[0].route.push(step('drop-1', 'drop'), step('drop-2', 'drop'), step('jelly-1', 'jelly'))
    const { id } = await createProject(em, document)
    const [d1, d2, d3, j1, j2, other] = [key('drop', 1), key('drop', 2), key('drop', 3), key('jelly', 1), key('jelly', 2), key('drape', 1)]
    const at = (name: string) => ({ params: Promise.resolve({ key: name }) })
    const using = { ...headers, 'x-kelvar-project': id }
    for (const [n, name] of [d1, d2, d3, j1, j2, other].entries()) {
      const request = new Request('http://127.0.0.1:3717/', { method: 'PUT', headers: using, body: bake(n + 1) as BodyInit })
      expect((await PUT_BAKE(request, at(name))).status).toBe(204)
    }
    // what is merely looked up is used as well
    expect((await GET_BAKE(new Request('http://127.0.0.1:3717/', { headers: using }), at(d1))).status).toBe(200)
    const bytes = new Uint8Array(await (await out(id)).arrayBuffer())
    const read = await readProjectFile(bytes)
    if (!read.ok) throw new Error(read.problem.message)
    expect([...read.bakes.keys()]).toEqual([d1, d3, j2].sort())
    expect(unpackBake(read.bakes.get(d3) as Uint8Array)?.values).toEqual(unpackBake(bake(3))?.values)
    // a copy has them before it is opened
    const copied = await POST_PROJECT(
      new Request('http://127.0.0.1:3717/', {
        method: 'POST',
        headers: { ...headers, 'content-type': 'application/json' },
        body: JSON.stringify({ document, copyOf: id }),
      }),
    )
    const { id: copy } = (await copied.json()) as { id: string }
    const ofCopy = await readProjectFile(new Uint8Array(await (await out(copy)).arrayBuffer()))
    expect(ofCopy.ok && [...ofCopy.bakes.keys()]).toEqual([d1, d3, j2].sort())
    await em.nativeDelete(Project, { id: copy })
    // to where none of it is known; what is no recording stays behind
    const connection = em.getConnection()
    const gone = () => connection.execute('delete from bake where key in (?, ?, ?, ?)', [d1, d3, j2, other])
    await gone()
    const carried = new Map([...read.bakes, [other, strToU8('no recording')] as const])
    const { status, answer } = await into(await writeProjectFile(read.document, read.assets, carried))
    expect(status).toBe(201)
    expect(await findBake(em, d1)).toEqual(Buffer.from(bake(1)))
    expect(await findBake(em, other)).toBeUndefined()
    const again = await readProjectFile(new Uint8Array(await (await out(answer.id)).arrayBuffer()))
    expect(again.ok && [...again.bakes.keys()]).toEqual([d1, d3, j2].sort())
    // a project that is gone uses nothing any more, and one that never was is noted nowhere
    await em.nativeDelete(Project, { id: { $in: [id, answer.id] } })
    await noteUse(em, id, d1)
    expect(await connection.execute('select key from project_bake where project_id in (?, ?)', [id, answer.id])).toEqual([])
    await gone()
    await connection.execute('delete from bake where key in (?, ?)', [d2, j1])
  })

  it('that lack something, or are not what they say, are refused whole', async () => {
    const { document, bytes, sha256, mark } = await withOwnFace()
    const em = library.orm.em.fork()
    const before = await em.count(Project)
    const lacking = await into(await writeProjectFile(document, new Map([[hashBytes(mark), mark]])))
    expect(lacking.answer.error).toMatchObject({ code: 'assets-missing', message: expect.stringContaining('“Own face”') })
    // a text that calls itself a font: nothing of the file is kept, not even what was fine
    const fake = strToU8('no font at all')
    const lying = {
      ...document,
      assets: [
        ...document.assets.filter((a) => a.sha256 !== sha256),
        { sha256, name: 'Own face', type: 'font' as const, bytes: bytes.length },
        { sha256: hashBytes(fake), name: 'Fake', type: 'font' as const, bytes: fake.length },
      ],
    }
    const refused = await into(
      await writeProjectFile(
        lying,
        new Map([
          [sha256, bytes],
          [hashBytes(fake), fake],
          [hashBytes(mark), mark],
        ]),
      ),
    )
    expect(refused.status).toBe(422)
    expect(refused.answer.error.message).toContain('“Fake”')
    expect(await em.count(Asset, { sha256 })).toBe(0)
    expect((await into(zipSync({ '../x': strToU8('x') }))).answer.error.code).toBe('foreign-part')
    expect((await into(strToU8('nothing'))).answer.error.code).toBe('damaged')
    expect((await into(new Uint8Array(), { 'content-length': String(300 * 1024 * 1024) })).status).toBe(413)
    expect((await into(await writeProjectFile(document, new Map()), { origin: 'http://elsewhere.example' })).status).toBe(403)
    expect(await em.count(Project)).toBe(before)
  })

  it('have no project behind them: not found', async () => {
    expect((await out('00000000-0000-4000-8000-0000000000ff')).status).toBe(404)
    expect((await out('../x')).status).toBe(404)
    const row = await createProject(library.orm.em.fork(), newProject('Größe: ½ “Tern”'))
    const taken = await out(row.id)
    expect(taken.headers.get('content-disposition')).toContain(`filename*=UTF-8''${encodeURIComponent('Größe: ½ “Tern”.kelvar')}`)
  })
})
