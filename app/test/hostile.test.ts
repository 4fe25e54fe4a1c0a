import { newProject } from '@kelvar/core/project/new-project'
import { beforeAll, describe, expect, it } from 'vitest'
import { POST as addFile } from '@/app/api/files/route'
import { DELETE as unlistFont } from '@/app/api/fonts/[sha256]/route'
import { POST as addFont } from '@/app/api/fonts/route'
import { DELETE as removeMask } from '@/app/api/masks/[id]/route'
import { POST as addMask } from '@/app/api/masks/route'
import { DELETE as removeProfile } from '@/app/api/profiles/[id]/route'
import { POST as addProfile } from '@/app/api/profiles/route'
import { POST as putBack } from '@/app/api/projects/[id]/put-back/route'
import { PUT as bringPicture } from '@/app/api/projects/[id]/picture/route'
import { PATCH as nameRevision } from '@/app/api/projects/[id]/revisions/[revision]/route'
import { DELETE as removeProject, GET as openProject, PUT as saveProject } from '@/app/api/projects/[id]/route'
import { POST as bringIn } from '@/app/api/projects/file/route'
import { POST as addProject } from '@/app/api/projects/route'
import { createProject } from '@/server/projects'
import { openLibrary } from './library'

const library = openLibrary()
let id: string
const nowhere = '7e51a0de-0000-4000-8000-00000000beef'

beforeAll(async () => {
  id = (await createProject(library.orm.em.fork())).id
})
const at = <P extends object>(params: P) => ({ params: Promise.resolve(params) })

/** Every way to change something, with whether it reads a body, whether that is JSON, and whether it may be large (200 MB). */
const MUTATIONS: Record<string, { method: string; body?: 'json' | 'bytes'; large?: boolean; call: (request: Request) => Promise<Response> }> = {
  'a new project': { method: 'POST', body: 'json', call: (r) => addProject(r) },
  'a save': { method: 'PUT', body: 'json', call: (r) => saveProject(r, at({ id })) },
  'a first picture': { method: 'PUT', body: 'json', call: (r) => bringPicture(r, at({ id })) },
  'a removal': { method: 'DELETE', call: (r) => removeProject(r, at({ id })) },
  'putting back': { method: 'POST', call: (r) => putBack(r, at({ id })) },
  'a revision’s name': { method: 'PATCH', body: 'json', call: (r) => nameRevision(r, at({ id, revision: nowhere })) },
  'a project file': { method: 'POST', body: 'bytes', large: true, call: (r) => bringIn(r) },
  'a font': { method: 'POST', body: 'bytes', call: (r) => addFont(r) },
  'taking a font out': { method: 'DELETE', call: (r) => unlistFont(r, at({ sha256: '0'.repeat(64) })) },
  'a drawing or picture': { method: 'POST', body: 'bytes', call: (r) => addFile(r) },
  'a profile': { method: 'POST', body: 'json', call: (r) => addProfile(r) },
  'a mask': { method: 'POST', body: 'json', call: (r) => addMask(r) },
  'removing a mask': { method: 'DELETE', call: (r) => removeMask(r, at({ id: nowhere })) },
  'removing a profile': { method: 'DELETE', call: (r) => removeProfile(r, at({ id: nowhere })) },
}

const local = { host: '127.0.0.1:3717', 'x-kelvar': 'test' }
const request = (method: string, headers: Record<string, string>, body?: BodyInit) =>
  new Request('http://127.0.0.1:3717/api', { method, headers, ...(body === undefined ? {} : { body, duplex: 'half' }) } as RequestInit)

/** A refusal that says what is wrong and what to do, and gives nothing of the inside away. */
async function refused(response: Response, status: number | number[]): Promise<string> {
  expect([status].flat()).toContain(response.status)
  const text = await response.text()
  const { error } = JSON.parse(text) as { error: { code: string; message: string; remedy: string } }
  expect(error.message.length).toBeGreaterThan(10)
  expect(error.remedy.length).toBeGreaterThan(5)
  expect(text).not.toMatch(/stack|node_modules|select |insert |ECONN|\/work\/|\.ts:/i)
  return error.code
}

const whole = async () => ((await (await openProject(request('GET', local), at({ id }))).json()) as { revision: number }).revision

describe.each(Object.entries(MUTATIONS))('%s', (_, { method, body, large, call }) => {
  it('is not done for a page of another site, nor under another name of this machine', async () => {
    for (const origin of ['http://evil.example', 'null', 'http://127.0.0.1:9999', 'https://127.0.0.1:3717'])
      expect(await refused(await call(request(method, { ...local, origin }, body && '{}')), 403)).toBe('origin')
    for (const host of ['evil.example', '127.0.0.1.evil.example', '127.0.0.1:3717.evil.example', '10.0.0.7:3717', ''])
      expect(await refused(await call(request(method, { host, origin: `http://${host}` }, body && '{}')), 403)).toBe('host')
    expect(await whole()).toBe(1)
  })

  if (!body) return
  it('refuses more than it may hold, told of beforehand or not, without reading it all', async () => {
    const limit = (large ? 201 : 31) * 1024 * 1024
    await refused(await call(request(method, { ...local, 'content-length': String(limit) }, '{}')), 413)
    if (large) return
    let given = 0
    const endless = new ReadableStream({
      pull(controller) {
        given += 1 << 20
        controller.enqueue(new Uint8Array(1 << 20).fill(32))
        // far more than any limit: a reader that does not stop would go on for long
        if (given > 200 << 20) controller.close()
      },
    })
    await refused(await call(request(method, local, endless)), 413)
    expect(given).toBeLessThan(40 << 20)
    expect(await whole()).toBe(1)
  })

  it('refuses what is malformed with the reason, in a moment', async () => {
    const begun = performance.now()
    const bad =
      body === 'json'
        ? ['', '{', '[]', 'null', '"x"', '{"__proto__":{"x":1}}'.slice(0, -1), '\u0000', `{"a":${'['.repeat(20_000)}`]
        : ['', 'x', 'PK\u0003\u0004', '\u0000'.repeat(100)]
    for (const text of bad) await refused(await call(request(method, { ...local, 'content-type': 'application/json' }, text)), [400, 404, 413, 415, 422])
    expect(performance.now() - begun).toBeLessThan(4000)
    expect(await whole()).toBe(1)
  })
})

it('a project that was hammered with all this is as it was', async () => {
  const { document } = (await (await openProject(request('GET', local), at({ id }))).json()) as { document: unknown }
  expect(document).toEqual(newProject())
})
