import { readDocument } from '@kelvar/core/project/read'
import type { ProjectDocument } from '@kelvar/core/document/schema'
import { createStore, del, entries, set } from 'idb-keyval'
import { z } from 'zod'

/** Work that the server has not accepted yet, as the browser keeps it. */
export interface Unsaved {
  readonly document: ProjectDocument
  /** the revision it was made from */
  readonly base: number
  readonly at: number
  /** what was on its way to the server when this was kept: one of these may have been accepted without word of it coming back */
  readonly sent?: readonly ProjectDocument[]
}

/** Where unsaved work of one project is kept until the server has it. */
export interface UnsavedKeeper {
  put(unsaved: Unsaved): Promise<void>
  clear(): Promise<void>
  /** Work that this page, or one that is closed by now, could not hand over; the newest. It is `clear`ed from then on with this page's own. */
  take(): Promise<Unsaved | undefined>
}

const stored = z.object({ document: z.unknown(), base: z.number().int().min(1), at: z.number(), sent: z.array(z.unknown()).max(20).default([]) })

const TAB = 'kelvar-tab'

/**
 * Keeps unsaved work in IndexedDB, apart for every open page, so that a page that crashes or is closed while the server is
 * away loses nothing. A page holds a lock of its own name as long as it lives: work under another name whose lock is free is
 * an orphan and is taken over.
 */
export function browserKeeper(project: string): UnsavedKeeper {
  const store = createStore('kelvar', 'unsaved')
  named ??= nameOfPage()
  const own = named.then((name) => `${project}/${name}`)
  let taken: string[] = []
  return {
    put: async (unsaved) => set(await own, unsaved, store),
    async clear() {
      await Promise.all([await own, ...taken].map((key) => del(key, store)))
      taken = []
    },
    async take() {
      const mine = await own
      const { held = [] } = await navigator.locks.query()
      const alive = new Set(held.map(({ name }) => name))
      const found: { key: string; unsaved: Unsaved }[] = []
      for (const [key, value] of await entries(store)) {
        const [of, name] = String(key).split('/')
        if (of !== project || (key !== mine && alive.has(lock(name)))) continue
        const parsed = stored.safeParse(value)
        const read = parsed.success ? readDocument(parsed.data.document) : undefined
        if (parsed.success && read?.ok) {
          const { base, at, sent } = parsed.data
          const documents = sent.map(readDocument).flatMap((result) => (result.ok ? [result.document] : []))
          found.push({ key: String(key), unsaved: { document: read.document, base, at, sent: documents } })
        } else await del(key, store)
      }
      found.sort((a, b) => b.unsaved.at - a.unsaved.at)
      if (found.length > 0) taken = [found[0].key]
      return found[0]?.unsaved
    },
  }
}

/** Found out once: projects that are opened after each other in one page share its name. */
let named: Promise<string> | undefined

const lock = (name: string) => `${TAB}/${name}`

/** This page's own name, which a reload keeps; a page that was duplicated from another takes a new one. */
async function nameOfPage(): Promise<string> {
  const known = sessionStorage.getItem(TAB)
  const name = known && (await hold(known)) ? known : crypto.randomUUID()
  if (name !== known) await hold(name)
  sessionStorage.setItem(TAB, name)
  return name
}

/** Takes the lock of a name for as long as the page lives; false when another page has it. */
const hold = (name: string): Promise<boolean> =>
  new Promise((resolve) => {
    void navigator.locks.request(lock(name), { ifAvailable: true }, (granted) => {
      resolve(granted !== null)
      return granted ? new Promise(() => {}) : undefined
    })
  })
