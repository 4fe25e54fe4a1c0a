import { write3mf } from '@kelvar/core/format/3mf'
import { writePly } from '@kelvar/core/format/ply'
import { writeStl } from '@kelvar/core/format/stl'
import { roundedBox, turnedRing } from '@kelvar/core/solid/revolve'
import { triangleCount } from '@kelvar/core/solid/solid'
import { readFile } from 'node:fs/promises'
import { describe, expect, it } from 'vitest'
import { GET as getAsset } from '@/app/api/assets/[sha256]/route'
import { POST } from '@/app/api/files/route'
import { openLibrary } from './library'

openLibrary()

async function add(body: Uint8Array | string, name?: string) {
  const headers = { host: '127.0.0.1:3717', 'x-kelvar': 'test', ...(name ? { 'x-file-name': name } : {}) }
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
    const served = await getAsset(new Request('http://127.0.0.1:3717/', { headers: { host: '127.0.0.1:3717', 'x-kelvar': 'test' } }), {
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

describe('models', () => {
  it('are read for real, told apart by what they hold, and kept', async () => {
    const ring = turnedRing(20, 6, 24, 12, 2 ** -14)
    for (const bytes of [writeStl(ring), writePly(ring), write3mf(ring, 'ring')]) {
      const { status, answer } = await add(bytes, 'ring.svg')
      expect(status).toBe(201)
      expect(answer).toMatchObject({ name: 'ring.svg', bytes: bytes.length, triangles: 576 })
    }
    const cut = await add(writeStl(ring).subarray(0, 3000), 'ring.stl')
    expect(cut.status).toBe(422)
  })

  it('may be larger than drawings', async () => {
    const box = roundedBox(50, 50, 50, 20, 170, 2 ** -14)
    const bytes = writeStl(box)
    expect(bytes.length).toBeGreaterThan(21 * 1024 * 1024)
    const text = `solid box\n${' '.repeat(21 * 1024 * 1024)}`
    expect(await add(text, 'box.svg')).toMatchObject({ status: 413 })
    expect((await add(text, 'box.stl')).status).toBe(422)
    expect(await add(bytes, 'box.stl')).toMatchObject({ status: 201, answer: { triangles: triangleCount(box) } })
  }, 60_000)
})

describe('pictures', () => {
  it('are read for real, whatever their name says, and served as what their bytes are', async () => {
    const webp = new Uint8Array(await readFile(new URL('../../core/test/ring.webp', import.meta.url)))
    const { status, answer } = await add(webp, 'ring.svg')
    expect(status).toBe(201)
    expect(answer).toMatchObject({ name: 'ring.svg', width: 160, height: 120 })
    const served = await getAsset(new Request('http://127.0.0.1:3717/', { headers: { host: '127.0.0.1:3717', 'x-kelvar': 'test' } }), {
      params: Promise.resolve({ sha256: answer.sha256 }),
    })
    expect(served.headers.get('content-type')).toBe('image/webp')
    expect(new Uint8Array(await served.arrayBuffer())).toEqual(webp)
  })

  it('that are damaged or far too large in pixels are refused with the reason, and not kept', async () => {
    const webp = new Uint8Array(await readFile(new URL('../../core/test/ring.webp', import.meta.url)))
    const cut = await add(webp.slice(0, 400), 'ring.webp')
    expect(cut.status).toBe(422)
    expect(cut.answer.error.message).toMatch(/damaged/)
    // a header that promises 30,000 × 30,000 pixels
    const bomb = Uint8Array.from([
      0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10, 0, 0, 0, 13, 0x49, 0x48, 0x44, 0x52, 0, 0, 0x75, 0x30, 0, 0, 0x75, 0x30, 8, 6, 0, 0, 0, 0, 0, 0, 0,
    ])
    const refused = await add(bomb, 'bomb.png')
    expect(refused.status).toBe(422)
    expect(refused.answer.error.message).toMatch(/30000 × 30000 pixels/)
  })
})
