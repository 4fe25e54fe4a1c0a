import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { createServer, request, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { gunzipSync, gzipSync } from 'node:zlib'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { staticFiles } from '@/server/static-files'

const folder = mkdtempSync(join(tmpdir(), 'kelvar-static-'))
const script = Buffer.from('export const answer = 42\n'.repeat(400))
let server: Server

beforeAll(async () => {
  mkdirSync(join(folder, 'chunks'))
  for (const name of ['one.js', 'gone.js']) {
    writeFileSync(join(folder, 'chunks', name), script)
    writeFileSync(join(folder, 'chunks', `${name}.gz`), gzipSync(script))
  }
  writeFileSync(join(folder, 'plain.js'), script)
  writeFileSync(join(folder, '..', 'kelvar-beside.js'), 'not ours')
  writeFileSync(join(folder, '..', 'kelvar-beside.js.gz'), gzipSync('not ours'))
  const handle = staticFiles(folder)
  server = createServer((asked, answer) => {
    if (!handle(asked, answer)) answer.writeHead(299).end(asked.url)
  })
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done))
})

afterAll(() => {
  server.close()
  rmSync(folder, { recursive: true })
  for (const end of ['', '.gz']) rmSync(join(folder, '..', `kelvar-beside.js${end}`))
})

/** As it comes over the wire: nothing is unpacked, and no path is tidied. */
const ask = (path: string, headers: Record<string, string> = { 'accept-encoding': 'gzip, br' }, method = 'GET') =>
  new Promise<{ status: number; headers: Record<string, unknown>; body: Buffer }>((done, fail) => {
    const { port } = server.address() as AddressInfo
    request({ host: '127.0.0.1', port, path, headers, method }, (answer) => {
      const parts: Buffer[] = []
      answer.on('data', (part: Buffer) => parts.push(part))
      answer.on('end', () => done({ status: answer.statusCode ?? 0, headers: answer.headers, body: Buffer.concat(parts) }))
    })
      .on('error', fail)
      .end()
  })

it('sends a script packed to whoever can unpack it, for good, and as alone as every answer is', async () => {
  const { status, headers, body } = await ask('/_next/static/chunks/one.js?dpl=1')
  expect(status).toBe(200)
  expect(headers).toMatchObject({
    'content-encoding': 'gzip',
    'content-type': 'text/javascript',
    'cache-control': 'public,max-age=31536000,immutable',
    vary: 'Accept-Encoding',
    'cross-origin-embedder-policy': 'require-corp',
    'cross-origin-opener-policy': 'same-origin',
    'x-content-type-options': 'nosniff',
  })
  expect(String(headers['content-security-policy'])).toContain("default-src 'none'")
  expect(body.length).toBeLessThan(script.length / 4)
  expect(gunzipSync(body)).toEqual(script)
})

it('sends it as it is to others, and its head alone where that is asked for', async () => {
  const whole = await ask('/_next/static/chunks/one.js', {})
  expect(whole.headers['content-encoding']).toBeUndefined()
  expect(whole.body).toEqual(script)
  const head = await ask('/_next/static/chunks/one.js', undefined, 'HEAD')
  expect(head.status).toBe(200)
  expect(head.body.length).toBe(0)
})

it('sends whole files whatever part is asked for', async () => {
  for (const range of ['bytes=5-2', 'bytes=99999999-', 'bytes=-1', 'bytes=x-y', 'lines=1-2']) {
    const { status, body } = await ask('/_next/static/chunks/one.js', { range })
    expect(status, range).toBe(200)
    expect(body).toEqual(script)
  }
})

it('leaves to others what is not there, was not packed, or is not a build’s', async () => {
  rmSync(join(folder, 'chunks', 'gone.js'))
  for (const path of [
    '/_next/static/chunks/gone.js',
    '/_next/static/chunks/none.js',
    '/_next/static/plain.js',
    '/_next/static/../kelvar-beside.js',
    '/_next/static/chunks/../../kelvar-beside.js',
    '/_next/static/%2e%2e/kelvar-beside.js',
    '/api/projects',
  ]) {
    const { status, body } = await ask(path)
    expect(status, path).toBe(299)
    expect(body.toString(), path).toBe(path)
  }
  expect((await ask('/_next/static/chunks/one.js', undefined, 'POST')).status).toBe(299)
})
