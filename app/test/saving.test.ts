import { newProject } from '@kelvar/core/project/new-project'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { keepSaving, settle } from '@/state/saving'
import { createWorkbenchStore } from '@/state/store'
import type { Unsaved } from '@/state/unsaved'
import { setParam } from '@/state/actions/steps'

type Answer = { status: number; body: unknown } | 'no answer'

let answers: Answer[]
let sent: { baseRevision: number; document: { pieces: { route: { params: { text?: string } }[] }[] }; picture?: string }[]
let end: (() => void) | undefined
/** what the browser keeps */
let held: Unsaved | undefined
const keeper = {
  put: async (unsaved: Unsaved) => {
    held = unsaved
  },
  clear: async () => {
    held = undefined
  },
  take: async () => held,
}

beforeEach(() => {
  vi.useFakeTimers()
  answers = []
  sent = []
  held = undefined
  vi.stubGlobal('window', new EventTarget())
  vi.stubGlobal('document', Object.assign(new EventTarget(), { visibilityState: 'visible' }))
  vi.stubGlobal('fetch', async (_url: string, init?: RequestInit) => {
    if (init) sent.push(JSON.parse(String(init.body)))
    const answer = answers.shift() ?? { status: 200, body: { revision: sent.length + 1 } }
    if (answer === 'no answer') throw new TypeError('fetch failed')
    return Response.json(answer.body, { status: answer.status })
  })
})
afterEach(() => {
  end?.()
  vi.unstubAllGlobals()
  vi.useRealTimers()
})

function begin(hasPicture = true) {
  const store = createWorkbenchStore('id', newProject(), 1)
  end = keepSaving(store, hasPicture, async () => 'iVBOR', keeper)
  const type = (text: string) => setParam(store, 'lettering-1', 'text', text, 'Lettering: words')
  return { store, type }
}

const wait = (ms: number) => vi.advanceTimersByTimeAsync(ms)
const textOf = (i: number) => sent[i].document.pieces[0].route[0].params.text

describe('keepSaving', () => {
  it('saves once a moment after the last of quick changes, over the revision it knows', async () => {
    const { store, type } = begin()
    for (const text of ['T', 'Te', 'Ter', 'Tern']) {
      type(text)
      await wait(300)
    }
    expect(sent.length).toBe(0)
    await wait(1000)
    expect(sent.length).toBe(1)
    expect(textOf(0)).toBe('Tern')
    expect(sent[0].baseRevision).toBe(1)
    expect(store.getState()).toMatchObject({ saving: 'kept', revision: 2 })
    type('Tern Quay')
    await wait(1000)
    expect(sent[1].baseRevision).toBe(2)
  })

  it('knows that undo and redo came back to what is kept', async () => {
    const { store, type } = begin()
    type('Tern')
    await wait(1000)
    expect(store.getState().saving).toBe('kept')
    store.getState().undo()
    store.getState().redo()
    expect(store.getState().saving).toBe('changed')
    await wait(1000)
    expect(store.getState()).toMatchObject({ saving: 'kept', revision: 2 })
    expect(sent.length).toBe(1)
    store.getState().undo()
    await wait(1000)
    expect(textOf(1)).not.toBe('Tern')
    expect(store.getState()).toMatchObject({ saving: 'kept', revision: 3 })
  })

  it('does not save over newer work by undoing', async () => {
    answers = [{ status: 409, body: { error: { code: 'conflict', message: 'Changed elsewhere.', remedy: 'Reload.' } } }]
    const { store, type } = begin()
    type('Tern')
    await wait(1000)
    store.getState().undo()
    await wait(20_000)
    expect(sent.length).toBe(1)
    expect(store.getState().saving).toBe('conflict')
  })

  it('tries again until the server is back, and loses nothing', async () => {
    answers = ['no answer', { status: 503, body: { error: { code: 'unavailable', message: 'The library cannot be reached.', remedy: 'Wait.' } } }]
    const { store, type } = begin()
    type('Tern')
    await wait(1000)
    expect(store.getState().saving).toBe('unreachable')
    type('Tern Quay')
    await wait(10_000)
    expect(store.getState().saving).toBe('kept')
    expect(textOf(sent.length - 1)).toBe('Tern Quay')
  })

  it('stops at a conflict, so that nothing newer is overwritten, and says so', async () => {
    answers = [{ status: 409, body: { error: { code: 'conflict', message: 'Changed elsewhere.', remedy: 'Reload.' } } }]
    const { store, type } = begin()
    type('Tern')
    await wait(1000)
    type('Tern Quay')
    await wait(20_000)
    expect(sent.length).toBe(1)
    expect(store.getState()).toMatchObject({ saving: 'conflict', savingMessage: 'Changed elsewhere. Reload.' })
  })

  it('shows both versions of a conflict and goes on with the one that is chosen', async () => {
    const theirs = { ...newProject(), name: 'Theirs' }
    for (const how of ['mine', 'theirs'] as const) {
      answers = [
        { status: 409, body: { error: { code: 'conflict', message: 'Changed elsewhere.', remedy: 'Compare.' } } },
        { status: 200, body: { document: theirs, revision: 5 } },
      ]
      sent = []
      const { store, type } = begin()
      type('Mine')
      await wait(1000)
      expect(store.getState()).toMatchObject({ saving: 'conflict', conflict: { theirs, revision: 5 } })
      answers = [{ status: 200, body: { revision: 6 } }]
      settle(store, how)
      await wait(1000)
      expect(store.getState()).toMatchObject({ saving: 'kept', conflict: undefined, revision: how === 'mine' ? 6 : 5 })
      if (how === 'mine') expect([sent.length, sent[1].baseRevision, textOf(1)]).toEqual([2, 5, 'Mine'])
      else {
        expect([sent.length, store.getState().document]).toEqual([1, theirs])
        // this page's version is one undo away
        store.getState().undo()
        await wait(1000)
        expect([sent[1].baseRevision, textOf(1)]).toEqual([5, 'Mine'])
      }
      end?.()
    }
  })

  it('keeps changes in the browser until the server has them, and takes them up when the page is opened again', async () => {
    answers = ['no answer', 'no answer', 'no answer']
    const first = begin()
    first.type('Lantern')
    await wait(300)
    expect(held).toMatchObject({ base: 1 })
    await wait(2000)
    // the page is closed before the server is back
    end?.()
    const again = begin()
    await wait(1)
    expect(again.store.getState().document.pieces[0].route[0].params.text).toBe('Lantern')
    answers = []
    await wait(1000)
    expect(again.store.getState().saving).toBe('kept')
    expect(textOf(sent.length - 1)).toBe('Lantern')
    expect(held).toBeUndefined()
  })

  it('hands over what was changed last when the page is left for another of the application', async () => {
    const { type } = begin()
    type('Lantern')
    await wait(50)
    end?.()
    await wait(1)
    expect([sent.length, sent[0].baseRevision, textOf(0), sent[0].picture]).toEqual([1, 1, 'Lantern', undefined])
    expect(held).toBeUndefined()
    // where the server is away it stays in the browser
    answers = ['no answer']
    const again = begin()
    again.type('Lanterns')
    end?.()
    await wait(1)
    expect(held).toMatchObject({ base: 1, document: { pieces: [{ route: [{ params: { text: 'Lanterns' } }, {}, {}] }] } })
    await wait(60_000)
    expect(sent.length).toBe(2)
  })

  it('does not lay changes kept in the browser over newer work unasked', async () => {
    held = { document: { ...newProject(), name: 'Kept here' }, base: 1, at: 0 }
    const store = createWorkbenchStore('id', newProject(), 4)
    end = keepSaving(store, true, async () => 'iVBOR', keeper)
    await wait(5000)
    expect(sent.length).toBe(0)
    expect(store.getState()).toMatchObject({ saving: 'conflict', conflict: { revision: 4 }, document: { name: 'Kept here' } })
    settle(store, 'mine')
    await wait(1000)
    expect(sent[0].baseRevision).toBe(4)
  })

  /** A server that answers only when it is told to. */
  function slowServer() {
    let answer: (() => void) | undefined
    const accepted: { baseRevision: number; document: ReturnType<typeof newProject> }[] = []
    vi.stubGlobal('fetch', (_url: string, init?: RequestInit) => {
      accepted.push(JSON.parse(String(init?.body)))
      return new Promise<Response>((resolve) => {
        answer = () => resolve(Response.json({ revision: accepted[accepted.length - 1].baseRevision + 1 }))
      })
    })
    return { accepted, answer: () => answer?.() }
  }

  it('does not meet itself as a rival: edited during a slow save, then left before the next one', async () => {
    const server = slowServer()
    const first = begin()
    first.type('Tern')
    await wait(800)
    first.type('Tern Quay')
    await wait(300)
    server.answer()
    await wait(1)
    // kept over the new revision at once
    expect(held).toMatchObject({ base: 2, document: { pieces: [{ route: [{ params: { text: 'Tern Quay' } }, {}, {}] }] } })
    // the page crashes here; it is opened again with what the server has
    const store = createWorkbenchStore('id', server.accepted[0].document, 2)
    end = keepSaving(store, true, async () => 'iVBOR', keeper)
    await wait(1)
    expect(store.getState()).toMatchObject({ saving: 'changed', conflict: undefined })
    expect(store.getState().document.pieces[0].route[0].params.text).toBe('Tern Quay')
  })

  it('does not meet itself either when the page goes before the answer comes', async () => {
    const server = slowServer()
    const first = begin()
    first.type('Tern')
    await wait(800)
    first.type('Tern Quay')
    await wait(300)
    // crashed: the save was accepted, but no answer ever came; what is held is still over the old revision
    expect(held).toMatchObject({ base: 1 })
    const store = createWorkbenchStore('id', server.accepted[0].document, 2)
    end = keepSaving(store, true, async () => 'iVBOR', keeper)
    await wait(1)
    expect(store.getState()).toMatchObject({ conflict: undefined, revision: 2 })
    expect(store.getState().document.pieces[0].route[0].params.text).toBe('Tern Quay')
    // another's work in between is still a conflict
    end?.()
    held = { document: { ...newProject(), name: 'Mine' }, base: 1, at: 0, sent: [{ ...newProject(), name: 'Sent' }] }
    const other = createWorkbenchStore('id', { ...newProject(), name: 'Theirs' }, 2)
    end = keepSaving(other, true, async () => 'iVBOR', keeper)
    await wait(1)
    expect(other.getState().saving).toBe('conflict')
  })

  it('goes on over what it had itself sent when only the answer was lost', async () => {
    const { store, type } = begin()
    type('Tern')
    const saved = structuredClone(store.getState().document)
    answers = [
      'no answer',
      { status: 409, body: { error: { code: 'conflict', message: 'Changed elsewhere.', remedy: 'Compare.' } } },
      { status: 200, body: { document: saved, revision: 2 } },
    ]
    await wait(1000)
    type('Tern Quay')
    await wait(5000)
    expect(store.getState()).toMatchObject({ saving: 'kept', conflict: undefined })
    expect(textOf(sent.length - 1)).toBe('Tern Quay')
    expect(sent[sent.length - 1].baseRevision).toBe(2)
  })

  it('brings the server the files it needs first, and keeps all of it in the browser while that cannot be done', async () => {
    const store = createWorkbenchStore('id', newProject(), 1)
    const order: string[] = []
    let away = true
    end = keepSaving(
      store,
      true,
      async () => undefined,
      keeper,
      async (document) => {
        order.push(`files of ${document.name}`)
        if (away) throw new TypeError('fetch failed')
      },
    )
    store.getState().edit('Rename', (draft) => {
      draft.name = 'Brushed'
    })
    await wait(1000)
    expect(store.getState().saving).toBe('unreachable')
    expect([sent.length, held?.document.name]).toEqual([0, 'Brushed'])
    away = false
    await wait(4000)
    expect(store.getState().saving).toBe('kept')
    expect(order).toEqual(['files of Brushed', 'files of Brushed'])
    expect(sent.length).toBe(1)
  })

  it('says when the server refuses, and tries again with the next change', async () => {
    answers = [{ status: 422, body: { error: { code: 'invalid', message: 'Too many pieces.', remedy: 'Remove some.' } } }]
    const { store, type } = begin()
    type('a')
    await wait(1000)
    expect(store.getState().saving).toBe('refused')
    type('b')
    await wait(1000)
    expect(store.getState().saving).toBe('kept')
  })

  it('goes on without asking where both windows came to the same', async () => {
    const { store, type } = begin()
    type('Tern')
    answers = [
      { status: 409, body: { error: { code: 'conflict', message: 'Changed elsewhere.', remedy: 'Compare.' } } },
      { status: 200, body: { document: structuredClone(store.getState().document), revision: 5 } },
    ]
    await wait(1000)
    expect(store.getState()).toMatchObject({ saving: 'kept', conflict: undefined, revision: 5 })
    expect(held).toBeUndefined()
    type('Tern Quay')
    await wait(1000)
    expect(sent[1].baseRevision).toBe(5)
  })

  it('gives a project its first picture without saving it, and saves nothing when nothing changes', async () => {
    begin(false)
    await wait(6000)
    expect(sent).toEqual([{ revision: 1, picture: 'iVBOR' }])
    await wait(60_000)
    expect(sent.length).toBe(1)
    end?.()
    begin(true)
    await wait(60_000)
    expect(sent.length).toBe(1)
  })

  it('warns before the page is left with unsaved work, not otherwise', async () => {
    const { type } = begin()
    const leave = () => {
      const event = new Event('beforeunload', { cancelable: true })
      window.dispatchEvent(event)
      return event.defaultPrevented
    }
    expect(leave()).toBe(false)
    type('Tern')
    expect(leave()).toBe(true)
    await wait(2000)
    expect(leave()).toBe(false)
  })
})
