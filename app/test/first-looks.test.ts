import { newProject } from '@kelvar/core/project/new-project'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { looksInQuiet, type Maker, type Report } from '@/server/first-looks/in-quiet'
import { makeFirstLook } from '@/server/first-looks/make'
import { findLook, keepLook, withoutLook } from '@/server/looks'
import { createProject, removeProject } from '@/server/projects'
import { flatKey, unpackLook } from '@/state/look'
import { openLibrary } from './library'

const library = openLibrary()
const em = () => library.orm.em.fork()

/** A project whose words nobody else has, so that it shares no look; with more steps. */
let number = 0
const project = (...steps: { kind: string; params: Record<string, unknown> }[]) => {
  const document = newProject(`Unseen ${Date.now()} ${number++}`)
  document.pieces[0].name = document.name
  document.pieces[0].route.push(...steps.map(({ kind, params }, i) => ({ id: `${kind}-more${i}`, kind, on: true, params })))
  return document
}

describe('a project that nobody has opened', () => {
  it('is found, the latest first, until a piece of it has a look or it is removed', async () => {
    const [one, two] = [await createProject(em(), project()), await createProject(em(), project())]
    // other tests make projects meanwhile
    const found = async (but: string[] = [], most = 500) => (await withoutLook(em(), but, most)).filter((id) => id === one.id || id === two.id)
    expect(await found()).toEqual([two.id, one.id])
    expect(await found([two.id])).toEqual([one.id])
    expect((await withoutLook(em(), [], 1)).length).toBe(1)
    await keepLook(em(), two.id, 'any piece', Uint8Array.of(1))
    expect(await found()).toEqual([one.id])
    await removeProject(em(), one.id)
    expect(await found()).toEqual([])
  })

  it('gets the look that its page would keep: every triangle of the word, and of copies as they look', async () => {
    const { id, document } = await createProject(em(), project())
    expect(await makeFirstLook(em(), id)).toBe(true)
    const look = async (of: string) => {
      const bytes = await findLook(em(), of, document.pieces[0].id)
      return bytes && unpackLook(Uint8Array.from(bytes))
    }
    const word = await look(id)
    expect(word?.mesh.letters.length).toBeGreaterThan(100)
    const [, , , right, top] = word?.mesh.box ?? []
    expect(right).toBeGreaterThan(top ?? Infinity)
    const many = await createProject(em(), project({ kind: 'row', params: {} }))
    expect(await makeFirstLook(em(), many.id)).toBe(true)
    const copies = await look(many.id)
    expect(copies?.key).toBe(flatKey(copies?.key.replace(/ flat$/, '') ?? ''))
    expect((copies?.mesh.letters.length ?? 0) % (word?.mesh.letters.length ?? NaN)).toBe(0)
    expect(copies?.mesh.letters.length).toBeGreaterThan(word?.mesh.letters.length ?? Infinity)
  })

  it('gets none where it is an outline, does not come out whole, or is not there', async () => {
    const outline = project()
    outline.pieces[0].route.splice(1)
    const missing = project()
    missing.pieces[0].route[0].params = { ...(missing.pieces[0].route[0].params as object), font: { sha256: 'ab'.repeat(32), name: 'Lost' } }
    for (const document of [outline, missing]) {
      const { id } = await createProject(em(), document)
      expect(await makeFirstLook(em(), id)).toBe(false)
      expect(await findLook(em(), id, document.pieces[0].id)).toBeUndefined()
    }
    expect(await makeFirstLook(em(), '7e51a0de-0000-4000-8000-00000000beef')).toBe(false)
  })
})

describe('a server that is asked for nothing', () => {
  it('makes the look of what has come in, in a process of its own', async () => {
    const { id, document } = await createProject(em(), project())
    const looks = looksInQuiet()
    try {
      await vi.waitUntil(() => findLook(em(), id, document.pieces[0].id), { timeout: 50_000, interval: 200 })
    } finally {
      looks.end()
    }
  })
})

describe('looks made in quiet', () => {
  const makers: { through: string[][]; hear: (report: Report) => void; gone: (event?: 'exit') => void; killed: boolean }[] = []
  let looks: ReturnType<typeof looksInQuiet>
  const begin = (): Maker => {
    const hears = new Map<string, (report: Report) => void>()
    const made = {
      through: [] as string[][],
      hear: (report: Report) => hears.get('message')?.(report),
      gone: () => hears.get('exit')?.({ made: false, more: false }),
      killed: false,
    }
    makers.push(made)
    return {
      send: (through: readonly string[]) => void made.through.push([...through]),
      on: (event: string, listener: (report: Report) => void) => void hears.set(event, listener),
      kill: () => void (made.killed = true),
    }
  }
  beforeEach(() => {
    vi.useFakeTimers({ toFake: ['setInterval', 'clearInterval', 'setTimeout', 'clearTimeout', 'Date'] })
    makers.length = 0
    looks = looksInQuiet(begin)
  })
  afterEach(() => {
    looks.end()
    vi.useRealTimers()
  })

  it('wait until nothing is asked, go one by one, and begin again when something has changed', () => {
    for (let i = 0; i < 30; i++) {
      looks.asked('GET')
      vi.advanceTimersByTime(100)
    }
    expect(makers).toEqual([])
    vi.advanceTimersByTime(1200)
    expect(makers.map(({ through }) => through)).toEqual([[[]]])
    // one at a time
    vi.advanceTimersByTime(20_000)
    expect(makers[0].through.length).toBe(1)
    makers[0].hear({ begun: 'one' })
    looks.asked('GET')
    makers[0].hear({ made: false, more: true })
    vi.advanceTimersByTime(500)
    expect(makers[0].through.length).toBe(1)
    vi.advanceTimersByTime(700)
    expect(makers[0].through).toEqual([[], ['one']])
    makers[0].hear({ begun: 'two' })
    // it has its look, and need not be left out
    makers[0].hear({ made: true, more: false })
    looks.asked('GET')
    vi.advanceTimersByTime(10_000)
    expect(makers[0].through.length).toBe(2)
    looks.asked('PUT')
    vi.advanceTimersByTime(2000)
    expect(makers[0].through).toEqual([[], ['one'], ['one']])
  })

  it('give up what takes too long or too much, and let the maker go when it has had nothing to do', () => {
    vi.advanceTimersByTime(1200)
    makers[0].hear({ begun: 'endless' })
    vi.advanceTimersByTime(59_000)
    expect(makers.map(({ killed }) => killed)).toEqual([false])
    vi.advanceTimersByTime(3000)
    expect(makers.map(({ killed }) => killed)).toEqual([true, false])
    // that of the old one is not heard any more
    makers[0].gone()
    makers[0].hear({ made: true, more: true })
    expect(makers[1].through).toEqual([['endless']])
    makers[1].hear({ begun: 'large' })
    makers[1].gone()
    vi.advanceTimersByTime(5000)
    expect(makers.length).toBe(2)
    looks.asked('POST')
    vi.advanceTimersByTime(2000)
    expect(makers[2].through).toEqual([['endless', 'large']])
    makers[2].hear({ made: false, more: false })
    vi.advanceTimersByTime(4 * 60_000)
    expect(makers[2].killed).toBe(false)
    vi.advanceTimersByTime(2 * 60_000)
    expect(makers[2].killed).toBe(true)
  })
})
