import { createHash } from 'node:crypto'
import { setFlagsFromString } from 'node:v8'
import { runInNewContext } from 'node:vm'
import { newProject } from '@kelvar/core/project/new-project'
import { describe, expect, it, onTestFinished } from 'vitest'
import { GET as getAsset } from '@/app/api/assets/[sha256]/route'
import { POST as bring } from '@/app/api/assets/route'
import { MAX_PROJECT_ASSETS, storeAsset, sweepAssets } from '@/server/assets'
import { Asset, Revision } from '@/server/entities'
import { createProject, removeProject, saveProject } from '@/server/projects'
import { openLibrary } from './library'

setFlagsFromString('--expose-gc')
const collect = runInNewContext('gc') as () => void
const library = openLibrary()
const host = { host: '127.0.0.1:3717', 'x-kelvar': 'test' }
const get = (sha256: string) => getAsset(new Request('http://127.0.0.1:3717/', { headers: host }), { params: Promise.resolve({ sha256 }) })

/** A stream of so many chunks, each made only when it is asked for, and its SHA-256. */
function streamed(chunks: number, size: number, seed: number): { body: ReadableStream<Uint8Array>; sha256: string } {
  const long = new Uint8Array(size + 256).map((_, k) => (k * 31 + seed) & 255)
  const chunk = (i: number) => long.slice(i % 256, (i % 256) + size)
  const hash = createHash('sha256')
  for (let i = 0; i < chunks; i++) hash.update(chunk(i))
  let i = 0
  return {
    sha256: hash.digest('hex'),
    body: new ReadableStream({
      pull(controller) {
        if (i < chunks) controller.enqueue(chunk(i++))
        else controller.close()
      },
    }),
  }
}

const send = (body: ReadableStream<Uint8Array>, type = 'model', headers: Record<string, string> = {}) =>
  bring(
    new Request(`http://127.0.0.1:3717/?type=${type}`, {
      method: 'POST',
      body,
      headers: { ...host, 'x-file-name': encodeURIComponent('stone 😀.stl'), ...headers },
      duplex: 'half',
    } as RequestInit),
  )

/** Watches the bytes held in buffers until the returned function is called, which says how many there were at most. */
function watchHeld(): () => number {
  // what is held, not what waits to be collected: the second time waits until the first has swept its buffers
  const held = () => {
    collect()
    collect()
    return process.memoryUsage().arrayBuffers
  }
  const before = held()
  let most = 0
  let watch: ReturnType<typeof setTimeout>
  const look = () => {
    const start = performance.now()
    most = Math.max(most, held() - before)
    // collecting takes its time where much is held and the machine is slow: what is watched has the most of it
    watch = setTimeout(look, Math.max(200, 4 * (performance.now() - start)))
  }
  watch = setTimeout(look, 200)
  const stop = () => clearTimeout(watch)
  onTestFinished(stop)
  return () => {
    stop()
    return most
  }
}

const count = async (table: string) =>
  Number((await library.orm.em.getConnection().execute<{ count: string }[]>(`select count(*) as count from ${table}`))[0].count)

describe('large files', () => {
  it('come in and go out in parts, the same bytes, without being whole in memory', async () => {
    // 64 MB in pieces that fit no part
    const { body, sha256 } = streamed(640, 104_729, 1)
    const stop = watchHeld()
    const answer = await send(body)
    expect(answer.status).toBe(201)
    expect(await answer.json()).toEqual({ sha256, name: 'stone 😀.stl', bytes: 640 * 104_729 })
    const out = await get(sha256)
    expect(out.headers.get('content-length')).toBe(String(640 * 104_729))
    const hash = createHash('sha256')
    const reader = out.body?.getReader()
    for (;;) {
      const read = await reader?.read()
      if (!read || read.done) break
      hash.update(read.value)
    }
    const most = stop()
    expect(hash.digest('hex')).toBe(sha256)
    // the same watch over somebody who does take it whole
    const control = watchHeld()
    const whole = new Uint8Array(await new Response(streamed(640, 104_729, 1).body).arrayBuffer())
    await new Promise((resolve) => setTimeout(resolve, 500))
    const wholeHeld = control()
    expect(whole.length).toBe(640 * 104_729)
    console.log(`67 MB in and out: ${(most / 1e6).toFixed(1)} MB of buffers at most; held whole: ${(wholeHeld / 1e6).toFixed(1)} MB`)
    expect(most).toBeGreaterThan(0)
    expect(wholeHeld).toBeGreaterThan(60e6)
    // half the file, which goes through twice
    expect(most).toBeLessThan(33e6)
  }, 300_000)

  it('are kept once however often and however many at once they come, and not at all when they break off or grow too large', async () => {
    const answers = await Promise.all(Array.from({ length: 8 }, () => send(streamed(5, 300_000, 77).body)))
    expect(answers.map((a) => a.status)).toEqual(new Array(8).fill(201))
    const [{ sha256 }] = await Promise.all(answers.map((a) => a.json() as Promise<{ sha256: string }>))
    expect(await library.orm.em.fork().count(Asset, { sha256 })).toBe(1)
    const [assets, parts] = [await count('asset'), await count('asset_part')]
    let sent = 0
    const broken = new ReadableStream<Uint8Array>({
      pull(controller) {
        if (sent++ < 30) controller.enqueue(new Uint8Array(100_000))
        else controller.error(new Error('the line broke'))
      },
    })
    expect((await send(broken)).status).toBe(400)
    // paint may take 32 MB
    const endless = new ReadableStream<Uint8Array>({ pull: (controller) => controller.enqueue(new Uint8Array(1_000_000)) })
    expect((await send(endless, 'paint')).status).toBe(413)
    expect((await send(streamed(1, 10, 3).body, 'model', { 'content-length': '999999999' })).status).toBe(413)
    expect((await send(streamed(1, 10, 3).body, 'font')).status).toBe(422)
    expect([await count('asset'), await count('asset_part')]).toEqual([assets, parts])
  })

  it('small ones too, by eight at once, are kept once', async () => {
    const em = () => library.orm.em.fork()
    const bytes = new TextEncoder().encode(`<svg>${Math.random()}</svg>`)
    const all = await Promise.all(Array.from({ length: 8 }, () => storeAsset(em(), { name: 'one.svg', type: 'vector' }, bytes)))
    expect(new Set(all.map((a) => a.sha256)).size).toBe(1)
    expect(await em().count(Asset, { sha256: all[0].sha256 })).toBe(1)
  })
})

describe('files that nothing names', () => {
  it('go after a day, but not while a project, a revision or a removed project still has them', async () => {
    const em = () => library.orm.em.fork()
    const store = async (name: string) => (await storeAsset(em(), { name, type: 'model' }, new TextEncoder().encode(`${name} ${Math.random()}`))).sha256
    const [loose, fresh, used, former, removed] = [
      await store('loose'),
      await store('fresh'),
      await store('used'),
      await store('former'),
      await store('removed'),
    ]
    const carrying = (...names: string[]) => {
      const document = newProject('Carrier')
      document.assets = names.map((sha256) => ({ sha256, name: 'file', type: 'model' as const, bytes: 1 }))
      return document
    }
    const project = await createProject(em(), carrying(former))
    expect(await saveProject(em(), project.id, 1, carrying(used))).toMatchObject({ saved: true })
    const other = await createProject(em(), carrying(removed))
    await removeProject(em(), other.id)
    for (const sha256 of [loose, used, former, removed]) await em().nativeUpdate(Asset, { sha256 }, { createdAt: new Date(Date.now() - 2 * 86_400_000) })
    await sweepAssets(em())
    const there = async (sha256: string) => (await em().count(Asset, { sha256 })) === 1
    expect(await Promise.all([loose, fresh, used, former, removed].map(there))).toEqual([false, true, true, true, true])
    // its parts went with it
    expect(await em().getConnection().execute('select 1 from asset_part where sha256 = ?', [loose])).toEqual([])
    // and the one that only an old revision names goes with the revision
    await em().nativeDelete(Revision, { projectId: project.id, number: 1 })
    await sweepAssets(em())
    expect([await there(former), await there(used)]).toEqual([false, true])
  })
})

describe('what a project carries', () => {
  it('is counted by what is really kept, against a limit that is named', async () => {
    const em = () => library.orm.em.fork()
    const { sha256 } = await storeAsset(em(), { name: 'heavy', type: 'bake' }, new TextEncoder().encode(`heavy ${Math.random()}`))
    await em().nativeUpdate(Asset, { sha256 }, { size: String(MAX_PROJECT_ASSETS + 1) })
    const project = await createProject(em(), newProject('Light'))
    const document = newProject('Heavy')
    // whether or not another test has brought the shipped face in
    const face = await em().findOne(Asset, { sha256: document.assets[0].sha256 })
    document.assets.push({ sha256, name: 'heavy', type: 'bake', bytes: 1 })
    expect(await saveProject(em(), project.id, 1, document)).toEqual({
      saved: false,
      reason: 'too-large',
      bytes: MAX_PROJECT_ASSETS + 1 + Number(face?.size ?? 0),
    })
    await em().nativeDelete(Asset, { sha256 })
  })
})
