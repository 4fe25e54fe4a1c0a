import { readdirSync, readFileSync } from 'node:fs'
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { hashBytes } from '@kelvar/core/cache/hash'
import { newProject } from '@kelvar/core/project/new-project'
import { strToU8, zipSync } from 'fflate'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { POST as addFile } from '@/app/api/files/route'
import { GET as listFonts, POST as addFont } from '@/app/api/fonts/route'
import { POST as bringIn } from '@/app/api/projects/file/route'
import { ReadersBusy, readApart } from '@/server/reading/pool'
import * as drawings from '../../core/test/hostile-drawings'
import { pngBomb, pngProfileBomb, pngStripes } from '../../core/test/hostile-pictures'
import { slowness } from '../../core/test/within'
import { openLibrary } from './library'

openLibrary()
const headers = { host: '127.0.0.1:3717', 'x-kelvar': 'test' }
const send = (call: (request: Request) => Promise<Response>, body: Uint8Array | string) =>
  call(new Request('http://127.0.0.1:3717/', { method: 'POST', headers, body: body as BodyInit }))
const others = async () => {
  const begun = performance.now()
  expect((await listFonts(new Request('http://127.0.0.1:3717/', { headers }))).status).toBe(200)
  return performance.now() - begun
}

/** The same as a page sends it: once more a moment later where the readers are busy. */
async function sendAgain(call: (request: Request) => Promise<Response>, body: Uint8Array | string): Promise<Response> {
  for (;;) {
    const answer = await send(call, body)
    if (answer.status !== 503) return answer
    expect(((await answer.json()) as { error: { code: string } }).error.code).toBe('busy')
    await new Promise((resolve) => setTimeout(resolve, 200))
  }
}

/** The processes that read for this one, and how long each has worked until now, s. */
function readers(): Map<number, number> {
  const found = new Map<number, number>()
  for (const pid of readdirSync('/proc').filter((name) => /^\d+$/.test(name)))
    try {
      if (!readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('reading/reader.ts')) continue
      const stat = readFileSync(`/proc/${pid}/stat`, 'utf8')
      const [, parent, , , , , , , , , , user, system] = stat
        .slice(stat.lastIndexOf(')') + 2)
        .split(' ')
        .map(Number)
      if (parent === process.pid) found.set(Number(pid), (user + system) / 100)
    } catch {
      // ended meanwhile
    }
  return found
}

let folder: string
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'kelvar-test-'))
})
afterAll(() => rm(folder, { recursive: true, force: true }))

async function onDisk(name: string, content: Uint8Array | string): Promise<string> {
  const path = join(folder, name)
  await writeFile(path, content)
  return path
}

/** An archive whose second entry in the directory is a second name for the bytes of the first, over and over. */
function sharingArchive(times: number): Uint8Array {
  const zeros = new Uint8Array(4_000_000)
  const name = (i: number) => `assets/${i.toString(16).padStart(64, '0')}`
  const one = zipSync({ 'project.json': strToU8(JSON.stringify(newProject())), [name(0)]: [zeros, { level: 0 }] })
  const view = new DataView(one.buffer)
  const end = one.length - 22
  const directory = view.getUint32(end + 16, true)
  // the last entry of the directory is that of the asset
  const second = directory + 46 + 'project.json'.length
  const entry = one.subarray(second, end)
  const copies = Array.from({ length: times }, (_, i) => {
    const copy = entry.slice()
    copy.set(strToU8(name(i)), 46)
    return copy
  })
  const out = new Uint8Array(second + copies.length * entry.length + 22)
  out.set(one.subarray(0, second))
  copies.forEach((copy, i) => out.set(copy, second + i * entry.length))
  out.set(one.subarray(end), second + copies.length * entry.length)
  const closing = new DataView(out.buffer, out.length - 22)
  for (const at of [8, 10]) closing.setUint16(at, 1 + times, true)
  closing.setUint32(12, out.length - 22 - directory, true)
  return out
}

describe('a file that is hard to read', () => {
  it('keeps nobody else waiting while it is read or refused', async () => {
    await send(addFile, '<svg><path d="M0 0h9v9z"/></svg>')
    const hostile: [string, (request: Request) => Promise<Response>, Uint8Array | string, number][] = [
      ['a picture that unpacks beyond its size', addFile, pngBomb(400_000_000), 422],
      ['a picture with such a colour profile', addFile, pngProfileBomb(400_000_000), 201],
      ['a picture of 40 million pixels of a bit', addFile, pngStripes(5000, 8000), 201],
      ['an archive whose parts share their bytes', bringIn, sharingArchive(500), 422],
      ['an ellipse without end', addFile, drawings.dxfEllipse(), 201],
      ['a document type of 198 kB', addFile, drawings.svgDoctype(198_000), 422],
      ['a spline of 1,000 points', addFile, drawings.dxfSpline(1000), 201],
      ['a path that crosses itself over and over', addFile, drawings.svgTangle(3000, 'evenodd'), 422],
      ['20,000 rules over 5,000 elements', addFile, drawings.svgRules(20_000, 5000), 201],
      ['200 kB of spaces', addFile, drawings.svgSpaces(200_000), 201],
      ['100,000 matrices', addFile, drawings.svgMatrices(100_000), 201],
      ['10,000 stipples', addFile, drawings.svgStipple(10_000), 201],
    ]
    const waits: number[] = []
    let most = 0
    for (const [what, call, body, status] of hostile) {
      const before = readers()
      let done = false
      let worked = 0
      const answer = send(call, body).finally(() => {
        done = true
      })
      while (!done) {
        waits.push(await others())
        // of those that are ended with what they read as well
        worked = Math.max(worked, ...Array.from(readers(), ([pid, seconds]) => seconds - (before.get(pid) ?? 0)))
        await new Promise((resolve) => setTimeout(resolve, 40))
      }
      const got = await answer
      expect(got.status, what).toBe(status)
      if (status === 422) expect(await got.text(), what).toMatch(/"message":"[^"]{10,}","remedy":"[^"]{10,}"/)
      expect(worked, what).toBeLessThan(10)
      most = Math.max(most, worked)
    }
    const sorted = waits.toSorted((a, b) => a - b)
    const [median, late] = [sorted[sorted.length >> 1], sorted[Math.floor(sorted.length * 0.95)]]
    console.log(`others waited ${median.toFixed(0)} ms, one in twenty ${late.toFixed(0)} ms or more, ${waits.length} times`)
    expect(waits.length).toBeGreaterThan(20)
    // they were seen at work
    expect(most).toBeGreaterThan(0.2)
    expect(median).toBeLessThan(50)
    // two readers and the database share two cores with this
    expect(late).toBeLessThan(250)
  }, 300_000)

  it('is ended when it takes too long or too much, with the limit named, and the next one is read', async () => {
    const path = await onDisk('stipple.svg', drawings.svgStipple(20_000))
    const begun = performance.now()
    const slow = await readApart({ kind: 'file', path }, undefined, { seconds: 0.5, megabytes: 1500 })
    expect(slow).toMatchObject({ ok: false, problem: { code: 'too-long', message: expect.stringContaining('0.5 seconds') } })
    expect(performance.now() - begun).toBeLessThan(5000)
    const large = await readApart({ kind: 'file', path }, undefined, { seconds: 20, megabytes: 60 })
    expect(large).toMatchObject({ ok: false, problem: { code: 'too-much-memory', message: expect.stringContaining('60 MB') } })
    const mark = await onDisk('mark.svg', await readFile(new URL('../../core/test/mark.svg', import.meta.url)))
    expect(await readApart({ kind: 'file', path: mark })).toMatchObject({ ok: true, file: { type: 'vector' } })
    expect(await readApart({ kind: 'file', path: join(folder, 'none') })).toMatchObject({ ok: false, failed: expect.stringContaining('ENOENT') })
  }, 60_000)

  it('does not wait for a reader that ended by itself while it had nothing to do', async () => {
    const path = await onDisk('plain.svg', '<svg><path d="M0 0h9v9z"/></svg>')
    expect(await readApart({ kind: 'file', path })).toMatchObject({ ok: true })
    // as when the system is short of memory
    const own = [...readers().keys()]
    expect(own.length).toBeGreaterThan(0)
    for (const pid of own) process.kill(pid, 'SIGKILL')
    await new Promise((resolve) => setTimeout(resolve, 200))
    expect(await readApart({ kind: 'file', path })).toMatchObject({ ok: true })
  })

  it('is stopped at once when nobody wants it any more, read or waiting', async () => {
    const path = await onDisk('long.svg', drawings.svgStipple(20_000))
    const controllers = Array.from({ length: 4 }, () => new AbortController())
    const readings = controllers.map(({ signal }) => readApart({ kind: 'file', path }, signal))
    const results = Promise.allSettled(readings)
    await new Promise((resolve) => setTimeout(resolve, 300))
    const begun = performance.now()
    for (const controller of controllers) controller.abort(new DOMException('stopped', 'AbortError'))
    expect((await results).map((r) => r.status)).toEqual(new Array(4).fill('rejected'))
    const took = performance.now() - begun
    expect(took).toBeLessThan(200 * slowness())
    const mark = await onDisk('mark.svg', '<svg><path d="M0 0h9v9z"/></svg>')
    expect(await readApart({ kind: 'file', path: mark })).toMatchObject({ ok: true })
  }, 60_000)

  it('waits in a short queue, beyond which the server says that it is busy', async () => {
    const path = await onDisk('some.svg', drawings.svgStipple(2000))
    let begun = 0
    const readings = Array.from({ length: 14 }, async () => {
      const how = await readApart({ kind: 'file', path }).then(
        () => 'read',
        (error: unknown) => (error instanceof ReadersBusy ? 'busy' : 'failed'),
      )
      return { how, ms: performance.now() - begun }
    })
    // all have asked: readers may have had to be started for that, in one go
    begun = performance.now()
    const results = await Promise.all(readings)
    const [read, busy] = ['read', 'busy'].map((how) => results.filter((r) => r.how === how))
    // two are read at once, and of those that wait nobody does for long
    expect(read.length).toBeGreaterThanOrEqual(2)
    expect(read.length + busy.length).toBe(14)
    expect(busy.filter(({ ms }) => ms < 500).length).toBeGreaterThanOrEqual(4)
    for (const { ms } of busy) expect(ms).toBeLessThan(2000)
    const body = drawings.svgStipple(2000)
    const answers = await Promise.all(Array.from({ length: 16 }, () => send(addFile, body)))
    const refused = answers.filter((a) => a.status === 503)
    expect(answers.filter((a) => a.status === 201).length + refused.length).toBe(16)
    expect(refused.length).toBeGreaterThan(0)
    expect(((await refused[0].json()) as { error: { code: string } }).error.code).toBe('busy')
  }, 300_000)

  it('that came eight times at once is kept once, font, drawing or picture', async () => {
    const shipped = await readFile(new URL('../../core/fonts/Knewave-Regular.ttf', import.meta.url))
    const font = new Uint8Array([...shipped, ...new Uint8Array(8).map(() => Math.random() * 255)])
    const marks = `<svg><path d="M0 0h${1 + Math.random()}v9z"/></svg>`
    for (const [call, body] of [
      [addFont, font],
      [addFile, marks],
    ] as const) {
      const answers = await Promise.all(Array.from({ length: 8 }, () => sendAgain(call, body)))
      expect(answers.map((a) => a.status)).toEqual(new Array(8).fill(201))
    }
    const { faces } = (await (await listFonts(new Request('http://127.0.0.1:3717/', { headers }))).json()) as { faces: { sha256: string; name: string }[] }
    const names = faces.map((face) => face.name.toLowerCase())
    expect(faces.filter((face) => face.sha256 === hashBytes(font))).toHaveLength(1)
    expect(new Set(names).size).toBe(names.length)
  }, 60_000)
})
