import { differences } from '@kelvar/core/document/differences'
import { readDocument } from '@kelvar/core/document/read'
import type { ProjectDocument } from '@kelvar/core/document/schema'
import { z } from 'zod'
import type { WorkbenchStore } from './store'
import type { UnsavedKeeper } from './unsaved'

const SAVE_AFTER = 700
const RETRY_AFTER = 3000
const PICTURE_AFTER = 4000
/** How soon a change is kept in the browser, ms. */
const HOLD_AFTER = 200

const accepted = z.object({ revision: z.number().int() })
const refused = z.object({ error: z.object({ message: z.string(), remedy: z.string() }) })
const opened = z.object({ document: z.unknown(), revision: z.number().int() })

/**
 * Saves by itself a moment after the last change, one save at a time, again and again while the server cannot be
 * reached; until the server has a change, the browser keeps it (`unsaved`), also beyond the life of the page. `picture` gives
 * the cabinet's picture as base64 PNG, or undefined. Returns a function that ends it.
 */
export function keepSaving(store: WorkbenchStore, hasPicture: boolean, picture: () => Promise<string | undefined>, unsaved: UnsavedKeeper): () => void {
  let timer: ReturnType<typeof setTimeout> | undefined
  let holding: ReturnType<typeof setTimeout> | undefined
  let busy = false
  let ended = false

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
    if (changed()) unsaved.put({ document, base: revision, at: Date.now() }).catch((error) => console.error(error))
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
      if (saving !== 'kept') store.setState({ saving: 'kept', savingMessage: '' })
      release()
      return
    }
    busy = true
    store.setState({ saving: 'saving' })
    try {
      const body = JSON.stringify({ baseRevision: revision, document, picture: await draw().catch(() => undefined) })
      const response = await fetch(`/api/projects/${id}`, { method: 'PUT', headers: { 'content-type': 'application/json' }, body })
      if (response.ok) {
        const { revision: next } = accepted.parse(await response.json())
        const more = store.getState().document !== document
        store.setState({ keptDocument: document, revision: next, saving: more ? 'changed' : 'kept', keptAt: Date.now(), savingMessage: '' })
        if (more) schedule(SAVE_AFTER)
        else release()
        return
      }
      const said = refused.safeParse(await response.json().catch(() => undefined))
      const message = said.success ? `${said.data.error.message} ${said.data.error.remedy}` : 'The server refused to keep the project.'
      if (response.status === 503) throw new Error(message)
      if (response.status === 409) await meet(store, message)
      else store.setState({ saving: 'refused', savingMessage: message })
    } catch {
      store.setState({ saving: 'unreachable', savingMessage: 'The server does not answer. Your changes stay in this browser and are kept as soon as it does.' })
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
    .then((found) => (found && !ended ? takeUp(store, found.document, found.base) : undefined))
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

/** Fetches what was saved meanwhile, so that both versions can be looked at. */
async function meet(store: WorkbenchStore, message: string): Promise<void> {
  store.setState({ saving: 'conflict', savingMessage: message })
  const response = await fetch(`/api/projects/${store.getState().id}`)
  const answer = opened.safeParse(await response.json().catch(() => undefined))
  const read = answer.success ? readDocument(answer.data.document) : undefined
  if (!answer.success || !read?.ok) return
  const { document } = store.getState()
  const { revision } = answer.data
  // both came to the same, as after the same change in two windows: there is nothing to choose
  if (differences(read.document, document).length === 0)
    store.setState({ saving: 'kept', savingMessage: '', revision, keptDocument: document, keptAt: Date.now() })
  else store.setState({ conflict: { theirs: read.document, revision } })
}

/** Work that could not be handed over when this project was last open here. */
async function takeUp(store: WorkbenchStore, document: ProjectDocument, base: number): Promise<void> {
  const state = store.getState()
  if (differences(document, state.document).length === 0) return
  const theirs = state.document
  state.replace('Changes kept in this browser', document)
  if (base !== state.revision)
    store.setState({
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
    store.setState({
      saving: 'kept',
      savingMessage: '',
      revision: conflict.revision,
      keptDocument: store.getState().document,
      conflict: undefined,
      keptAt: Date.now(),
    })
  } else store.setState({ saving: 'changed', savingMessage: '', revision: conflict.revision, keptDocument: conflict.theirs, conflict: undefined })
}
