import { readFile } from 'node:fs/promises'
import { SHIPPED_FACES } from '@kelvar/core/fonts'
import { zlibSync } from 'fflate'
import { beforeAll, describe, expect, it } from 'vitest'
import { GET as getAsset } from '@/app/api/assets/[sha256]/route'
import { DELETE } from '@/app/api/fonts/[sha256]/route'
import { GET, POST } from '@/app/api/fonts/route'
import { seedShippedFaces } from '@/server/assets'
import type { ListedFace } from '@/server/fonts'
import { openLibrary } from './library'

const library = openLibrary()
const folder = new URL('../../core/fonts/', import.meta.url)

beforeAll(async () => {
  await seedShippedFaces(library.orm.em.fork(), folder.pathname)
  const shipped = SHIPPED_FACES.map((f) => `'${f.sha256}'`).join()
  await library.orm.em.getConnection().execute(`delete from asset where type = 'font' and sha256 not in (${shipped})`)
})

const request = (method: string, body?: Uint8Array) =>
  new Request('http://127.0.0.1:3717/api/fonts', {
    method,
    headers: { host: '127.0.0.1:3717', 'x-kelvar': 'test' },
    ...(body ? { body: body as BodyInit } : {}),
  })
const add = async (body: Uint8Array) => {
  const response = await POST(request('POST', body))
  return {
    status: response.status,
    answer: (await response.json()) as { faces: ListedFace[]; notes: string[]; error: { code: string; message: string; remedy: string } },
  }
}
const listed = async () => ((await (await GET(request('GET'))).json()) as { faces: ListedFace[] }).faces

/** A font like a shipped one, told apart by one byte in a place that does not matter. */
async function variant(file: string, byte: number): Promise<Uint8Array> {
  const bytes = new Uint8Array(await readFile(new URL(file, folder)))
  // modified date in "head"
  const view = new DataView(bytes.buffer)
  for (let i = 0; i < view.getUint16(4); i++) if (view.getUint32(12 + 16 * i) === 0x68656164) bytes[view.getUint32(12 + 16 * i + 8) + 35] = byte
  return bytes
}

describe('the type case', () => {
  it('lists the shipped faces in their order, with what they hold', async () => {
    const faces = await listed()
    expect(faces.slice(0, SHIPPED_FACES.length).map((f) => f.shipped)).toEqual(SHIPPED_FACES.map((f) => f.id))
    expect(faces.length).toBeGreaterThanOrEqual(18)
    expect(faces.find((f) => f.shipped === 'anybody')).toMatchObject({ kind: 'variable', axes: ['wdth', 'wght'] })
  })

  it('keeps nothing of a font whose reading was stopped', async () => {
    const controller = new AbortController()
    const before = await listed()
    const file = await variant('Knewave-Regular.ttf', 3)
    const init = { method: 'POST', headers: { host: '127.0.0.1:3717', 'x-kelvar': 'test' }, body: file as BodyInit, signal: controller.signal }
    const answer = POST(new Request('http://127.0.0.1:3717/api/fonts', init))
    await new Promise((resolve) => setTimeout(resolve, 1))
    controller.abort()
    expect((await answer).status).toBe(499)
    expect(await listed()).toEqual(before)
    expect((await add(file)).status).toBe(201)
    for (const { sha256 } of (await listed()).filter((f) => !f.shipped)) await DELETE(request('DELETE'), { params: Promise.resolve({ sha256 }) })
  })

  it('takes a font in, serves its bytes, and knows it again', async () => {
    const file = await variant('Knewave-Regular.ttf', 7)
    const first = await add(file)
    expect(first.status).toBe(201)
    // the shipped Knewave has the name already: a font's name is only what it says of itself
    expect(first.answer.faces[0]).toMatchObject({ name: 'Knewave (2)', kind: expect.any(String), scripts: expect.arrayContaining(['Latn']) })
    expect(first.answer.notes[0]).toContain('calls itself Knewave')
    const { sha256 } = first.answer.faces[0]
    const served = await getAsset(request('GET'), { params: Promise.resolve({ sha256 }) })
    expect(new Uint8Array(await served.arrayBuffer())).toEqual(file)
    const again = await add(file)
    expect(again.answer.faces.map((f) => f.sha256)).toEqual([sha256])
    expect(again.answer.notes[0]).toContain('already')
    expect((await listed()).filter((f) => f.name.startsWith('Knewave'))).toHaveLength(2)
  })

  it('keeps a face that projects may use when it is taken out of the case', async () => {
    const { answer } = await add(await variant('Monoton-Regular.ttf', 9))
    const { sha256 } = answer.faces[0]
    const remove = (name: string) => DELETE(request('DELETE'), { params: Promise.resolve({ sha256: name }) })
    expect((await remove(sha256)).status).toBe(204)
    expect((await listed()).some((f) => f.sha256 === sha256)).toBe(false)
    expect((await getAsset(request('GET'), { params: Promise.resolve({ sha256 }) })).status).toBe(200)
    expect((await remove(sha256)).status).toBe(404)
    expect((await remove(SHIPPED_FACES[0].sha256)).status).toBe(409)
    expect((await add(await variant('Monoton-Regular.ttf', 9))).answer.faces[0].sha256).toBe(sha256)
    expect((await listed()).some((f) => f.sha256 === sha256)).toBe(true)
  })

  it('refuses what it cannot use, with the reason, and keeps nothing of it', async () => {
    const whole = new Uint8Array(await readFile(new URL('Jost-Bold.ttf', folder)))
    const pictures = whole.slice()
    pictures.set(new TextEncoder().encode('CBDT'), Buffer.from(pictures.buffer).indexOf('glyf'))
    const before = (await listed()).length
    const cases: [Uint8Array, number, RegExp][] = [
      [new Uint8Array(), 422, /empty/],
      [whole.slice(0, whole.length / 2), 422, /cut short/],
      [zlibSync(whole), 422, /no TrueType or OpenType/],
      [pictures, 422, /pictures or bitmaps only/],
      [new Uint8Array(31 * 1024 * 1024), 413, /larger than 30 MB/],
    ]
    for (const [bytes, status, reason] of cases) {
      const { status: got, answer } = await add(bytes)
      expect(got).toBe(status)
      expect(answer.error.message).toMatch(reason)
      expect(answer.error.remedy.length).toBeGreaterThan(15)
    }
    expect((await listed()).length).toBe(before)
  })
})
