import { readFile } from 'node:fs/promises'
import { newProject } from '@kelvar/core/project/new-project'
import type { ProjectDocument } from '@kelvar/core/document/schema'
import { hashBytes } from '@kelvar/core/cache/hash'
import { readProjectFile, writeProjectFile } from '@kelvar/core/format/project-file'
import { SHIPPED_FACES } from '@kelvar/core/fonts'
import { strToU8, zipSync } from 'fflate'
import { describe, expect, it } from 'vitest'
import { GET } from '@/app/api/projects/[id]/file/route'
import { POST } from '@/app/api/projects/file/route'
import { assetBytes } from '@/server/assets'
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

/** A face that this library has never seen: a shipped one with some bytes behind its last table. */
async function ownFont(tail: number): Promise<{ bytes: Uint8Array; sha256: string }> {
  const shipped = await readFile(new URL('../../core/fonts/Knewave-Regular.ttf', import.meta.url))
  const bytes = new Uint8Array([...shipped, ...new Uint8Array(8).fill(tail)])
  return { bytes, sha256: hashBytes(bytes) }
}

async function withOwnFace(): Promise<{ document: ProjectDocument; bytes: Uint8Array; sha256: string; mark: Uint8Array }> {
  const { bytes, sha256 } = await ownFont(Math.floor(Math.random() * 200) + 20)
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
