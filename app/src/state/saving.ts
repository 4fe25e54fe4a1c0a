import { differences } from '@kelvar/core/project/differences'
import { readDocument } from '@kelvar/core/project/read'
import type { ProjectDocument } from '@kelvar/core/document/schema'
import { z } from 'zod'
import { refusalOf } from './server'
import { type WorkbenchStore, writable } from './store'
import type { Unsaved, UnsavedKeeper } from './unsaved'

const SAVE_AFTER = 700
const RETRY_AFTER = 3000
const PICTURE_AFTER = 4000
/** How soon a change is kept in the browser, ms. */
const HOLD_AFTER = 200
/** so many documents that were sent without an answer are remembered besides the last */
const MOST_SENT = 9

const accepted = z.object({ revision: z.number().int() })
const opened = z.object({ document: z.unknown(), revision: z.number().int() })

/**
 * Saves by itself a moment after the last change, one save at a time, again and again while the server cannot be
 * reached; until the server has a change, the browser keeps it (`unsaved`), also beyond the life of the page. `bring` takes the server the
 * files that only this browser has. `picture` gives
 * the cabinet's picture as base64 PNG, or undefined. Returns a function that ends it.
 */
export function keepSaving(
  store: WorkbenchStore,
  hasPicture: boolean,
  picture: () => Promise<string | undefined>,
  unsaved: UnsavedKeeper,
  bring: (document: ProjectDocument) => Promise<void> = async () => {},
): () => void {
  let timer: ReturnType<typeof setTimeout> | undefined
  let holding: ReturnType<typeof setTimeout> | undefined
  let busy = false
  let ended = false
  /** what was sent and not answered: word of its being accepted may be lost on the way back */
  let sent: readonly ProjectDocument[] = []

  const schedule = (after: number) => {
    clearTimeout(timer)
    if (!ended) timer = setTimeout(() => void save(), after)
  }

  const hold = () => {
    holding ??= setTimeout(() => {
      holding = undefined
      put()
    }, HOLD_AFTER)
  }
  const changed = () => store.getState().document !== store.getState().keptDocument
  const put = () => {
    const { document, revision } = store.getState()
    if (changed()) unsaved.put({ document, base: revision, at: Date.now(), sent }).catch((error) => console.error(error))
  }
  const release = () => {
    clearTimeout(holding)
    holding = undefined
    unsaved.clear().catch((error) => console.error(error))
  }

  const save = async (draw = picture) => {
    const { id, document, revision, saving, keptDocument } = store.getState()
    if (busy || saving === 'conflict') return
    if (document === keptDocument) {
      // undo and redo can come back to the very document that is kept
      if (saving !== 'kept') writable(store).setState({ saving: 'kept', savingMessage: '' })
      release()
      return
    }
    busy = true
    sent = [...sent.slice(-MOST_SENT), document]
    // should the page be gone before the answer comes, it knows what it had sent
    put()
    writable(store).setState({ saving: 'saving' })
    try {
      // what it names must be there before it
      await bring(document)
      const body = JSON.stringify({ baseRevision: revision, document, picture: await draw().catch(() => undefined) })
      const response = await fetch(`/api/projects/${id}`, { method: 'PUT', headers: { 'content-type': 'application/json' }, body })
      if (response.ok) {
        const { revision: next } = accepted.parse(await response.json())
        const more = store.getState().document !== document
        writable(store).setState({ keptDocument: document, revision: next, saving: more ? 'changed' : 'kept', keptAt: Date.now(), savingMessage: '' })
        sent = []
        if (more) {
          // kept in the browser over the new revision at once: left or crashed now, it must not meet itself
          put()
          schedule(SAVE_AFTER)
        } else release()
        return
      }
      const message = refusalOf(await response.json().catch(() => undefined)) ?? 'The server refused to keep the project.'
      if (response.status === 503) throw new Error(message)
      if (response.status === 409) {
        await meet(store, message, sent)
        if (store.getState().saving === 'changed') schedule(SAVE_AFTER)
      } else writable(store).setState({ saving: 'refused', savingMessage: message })
    } catch {
      writable(store).setState({
        saving: 'unreachable',
        savingMessage: 'The server does not answer. Your changes stay in this browser and are kept as soon as it does.',
      })
      schedule(RETRY_AFTER)
    } finally {
      busy = false
    }
  }

  /** A project that has no picture yet gets one without being saved: two pages that merely opened it must not meet over that. */
  const bringPicture = async () => {
    const { id, revision } = store.getState()
    if (ended || changed() || busy) return
    const png = await picture().catch(() => undefined)
    if (!png || changed()) return
    await fetch(`/api/projects/${id}/picture`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ revision, picture: png }),
    }).catch(() => undefined)
  }

  let seen = store.getState()
  const bringing = hasPicture ? undefined : setTimeout(() => void bringPicture(), PICTURE_AFTER)
  const unsubscribe = store.subscribe((state) => {
    const before = seen
    seen = state
    if (state.document !== before.document) hold()
    // a conflict that was settled goes on to be saved
    if (state.document !== before.document || (before.saving === 'conflict' && state.saving === 'changed')) schedule(SAVE_AFTER)
    if (before.saving === 'conflict' && state.saving === 'kept') release()
  })
  unsaved
    .take()
    .then((found) => (found && !ended ? takeUp(store, found) : undefined))
    .catch((error) => console.error(error))

  const warn = (event: BeforeUnloadEvent) => {
    if (changed()) event.preventDefault()
  }
  const hide = () => {
    if (document.visibilityState === 'hidden') void save()
  }
  window.addEventListener('beforeunload', warn)
  document.addEventListener('visibilitychange', hide)
  return () => {
    ended = true
    // the page is left for another one of the application: what was not saved yet goes at once, without a picture
    put()
    if (changed()) void save(async () => undefined)
    clearTimeout(timer)
    clearTimeout(holding)
    clearTimeout(bringing)
    unsubscribe()
    window.removeEventListener('beforeunload', warn)
    document.removeEventListener('visibilitychange', hide)
  }
}

const isOneOf = (document: ProjectDocument, list: readonly ProjectDocument[]): boolean => list.some((other) => differences(document, other).length === 0)

/** Fetches what was saved meanwhile, so that both versions can be looked at. */
async function meet(store: WorkbenchStore, message: string, sent: readonly ProjectDocument[]): Promise<void> {
  writable(store).setState({ saving: 'conflict', savingMessage: message })
  const response = await fetch(`/api/projects/${store.getState().id}`)
  const answer = opened.safeParse(await response.json().catch(() => undefined))
  const read = answer.success ? readDocument(answer.data.document) : undefined
  if (!answer.success || !read?.ok) return
  const { document } = store.getState()
  const { revision } = answer.data
  // both came to the same, as after the same change in two windows: there is nothing to choose
  if (differences(read.document, document).length === 0)
    writable(store).setState({ saving: 'kept', savingMessage: '', revision, keptDocument: document, keptAt: Date.now() })
  // what was saved is what this page itself had sent, without hearing of it: its work goes on over that
  else if (isOneOf(read.document, sent)) writable(store).setState({ saving: 'changed', savingMessage: '', revision, keptDocument: read.document })
  else writable(store).setState({ conflict: { theirs: read.document, revision } })
}

/** Work that could not be handed over when this project was last open here. */
async function takeUp(store: WorkbenchStore, { document, base, sent = [] }: Unsaved): Promise<void> {
  const state = store.getState()
  if (differences(document, state.document).length === 0) return
  const theirs = state.document
  state.replace('Changes kept in this browser', document)
  if (base !== state.revision && !isOneOf(theirs, sent))
    writable(store).setState({
      saving: 'conflict',
      savingMessage: 'This browser kept changes that were made to an older revision.',
      conflict: { theirs, revision: state.revision },
    })
}

/**
 * Ends a conflict. With 'mine' this page's version is saved over the newer one, which stays among the revisions; with
 * 'theirs' the newer one is gone on with, and this page's can be had back by undo. Also of what was set aside on the server.
 */
export function settle(store: WorkbenchStore, how: 'mine' | 'theirs'): void {
  const { conflict, replace } = store.getState()
  if (!conflict) return
  if (how === 'theirs') {
    replace('Take the other version', conflict.theirs)
    writable(store).setState({
      saving: 'kept',
      savingMessage: '',
      revision: conflict.revision,
      keptDocument: store.getState().document,
      conflict: undefined,
      keptAt: Date.now(),
    })
  } else writable(store).setState({ saving: 'changed', savingMessage: '', revision: conflict.revision, keptDocument: conflict.theirs, conflict: undefined })
}
