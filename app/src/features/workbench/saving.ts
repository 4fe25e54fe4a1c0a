import type { ProjectDocument } from '@kelvar/core/document/schema'
import { z } from 'zod'
import type { WorkbenchStore } from './store'

const SAVE_AFTER = 700
const RETRY_AFTER = 3000
const PICTURE_AFTER = 4000

const accepted = z.object({ revision: z.number().int() })
const refused = z.object({ error: z.object({ message: z.string(), remedy: z.string() }) })

/**
 * Saves by itself a moment after the last change, one save at a time, again and again while the server cannot be
 * reached. `picture` gives the cabinet's picture as base64 PNG, or undefined. Returns a function that ends it.
 */
export function keepSaving(store: WorkbenchStore, hasPicture: boolean, picture: () => Promise<string | undefined>): () => void {
  let timer: ReturnType<typeof setTimeout> | undefined
  // a project without a picture is saved once for that alone
  let saved: ProjectDocument | undefined = hasPicture ? store.getState().document : undefined
  let busy = false
  let ended = false

  const schedule = (after: number) => {
    clearTimeout(timer)
    if (!ended) timer = setTimeout(save, after)
  }

  const save = async () => {
    const { id, document, revision, saving } = store.getState()
    if (busy || saving === 'conflict') return
    if (document === saved) {
      // undo and redo can come back to the very document that is kept
      if (saving !== 'kept') store.setState({ saving: 'kept', savingMessage: '' })
      return
    }
    busy = true
    store.setState({ saving: 'saving' })
    try {
      const body = JSON.stringify({ baseRevision: revision, document, picture: await picture().catch(() => undefined) })
      const response = await fetch(`/api/projects/${id}`, { method: 'PUT', headers: { 'content-type': 'application/json' }, body })
      if (response.ok) {
        saved = document
        const { revision: next } = accepted.parse(await response.json())
        const changed = store.getState().document !== document
        store.setState({ revision: next, saving: changed ? 'changed' : 'kept', keptAt: Date.now(), savingMessage: '' })
        if (changed) schedule(SAVE_AFTER)
        return
      }
      const said = refused.safeParse(await response.json().catch(() => undefined))
      const message = said.success ? `${said.data.error.message} ${said.data.error.remedy}` : 'The server refused to keep the project.'
      if (response.status === 503) throw new Error(message)
      store.setState({ saving: response.status === 409 ? 'conflict' : 'refused', savingMessage: message })
    } catch {
      store.setState({ saving: 'unreachable', savingMessage: 'The server does not answer. Your changes stay in this page and are kept as soon as it does.' })
      schedule(RETRY_AFTER)
    } finally {
      busy = false
    }
  }

  let seen = store.getState().document
  if (!hasPicture) schedule(PICTURE_AFTER)
  const unsubscribe = store.subscribe(({ document }) => {
    if (document === seen) return
    seen = document
    schedule(SAVE_AFTER)
  })
  const warn = (event: BeforeUnloadEvent) => {
    if (saved && store.getState().document !== saved) event.preventDefault()
  }
  const hide = () => {
    if (document.visibilityState === 'hidden') void save()
  }
  window.addEventListener('beforeunload', warn)
  document.addEventListener('visibilitychange', hide)
  return () => {
    ended = true
    clearTimeout(timer)
    unsubscribe()
    window.removeEventListener('beforeunload', warn)
    document.removeEventListener('visibilitychange', hide)
  }
}
