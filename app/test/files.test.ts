import { readFile } from 'node:fs/promises'
import { MikroORM } from '@mikro-orm/postgresql'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { GET as getAsset } from '@/app/api/assets/[sha256]/route'
import { POST } from '@/app/api/files/route'
import { database, databaseOptions } from '@/server/database'

let orm: MikroORM

beforeAll(async () => {
  orm = await MikroORM.init(databaseOptions(process.env.KELVAR_DATABASE_URL ?? ''))
  await orm.getMigrator().up()
})

afterAll(async () => {
  await orm.close(true)
  await (await database()).close(true)
})

async function add(body: Uint8Array | string, name?: string) {
  const headers = { host: '127.0.0.1:3717', ...(name ? { 'x-file-name': name } : {}) }
  const response = await POST(new Request('http://127.0.0.1:3717/api/files', { method: 'POST', headers, body: body as BodyInit }))
  return {
    status: response.status,
    answer: (await response.json()) as { sha256: string; name: string; layers: number; ignored: string[]; error: { message: string; remedy: string } },
  }
}

describe('drawings', () => {
  it('are read for real, kept by content and served as plain bytes', async () => {
    const mark = new Uint8Array(await readFile(new URL('../../core/test/mark.svg', import.meta.url)))
    const { status, answer } = await add(mark, encodeURIComponent('../marks/Märk.svg'))
    expect(status).toBe(201)
    expect(answer).toMatchObject({ name: 'Märk.svg', ignored: [] })
    expect(answer.layers).toBeGreaterThan(5)
    const served = await getAsset(new Request('http://127.0.0.1:3717/', { headers: { host: '127.0.0.1:3717' } }), {
      params: Promise.resolve({ sha256: answer.sha256 }),
    })
    // never as a document that a browser would run
    expect(served.headers.get('content-type')).toBe('application/octet-stream')
    expect(new Uint8Array(await served.arrayBuffer())).toEqual(mark)
    expect((await add(mark, '%E0%A4%A')).answer).toMatchObject({ sha256: answer.sha256, name: 'Drawing' })
  })

  it('that cannot be read are refused with the reason', async () => {
    for (const [body, status, reason] of [
      ['', 422, /no DXF drawing|ENTITIES/],
      ['<html></html>', 422, /no SVG/],
      ['<svg><g></svg>', 422, /well-formed/],
      [new Uint8Array(21 * 1024 * 1024), 413, /20 MB/],
    ] as const) {
      const { status: got, answer } = await add(body)
      expect(got).toBe(status)
      expect(answer.error.message).toMatch(reason)
    }
  })
})
