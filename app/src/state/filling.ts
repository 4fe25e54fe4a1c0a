import { desk, proxy } from '@/workers/maker'
import { SUPERSEDED } from '@/workers/supervisor'
import { inMaterials, type ViewMesh } from '@/workers/view-mesh'
import type { RouteNews, Work } from '@/workers/messages'
import { FrameCache } from './frames'
import { type WorkbenchStore, writable } from './store'
import { contentAt, framesOf, moves, workAt, workOf } from './work'

/** Frames that were made while this page is open. */
export const madeFrames = new FrameCache()

/** How long nothing must change before frames are made ahead, ms. */
const FILL_AFTER = 400

/** What a worker told of a frame, with its mesh where only its materials were told, since the rest is known. */
export function wholeNews(news: RouteNews, known: ViewMesh | undefined): RouteNews | undefined {
  if (news.mesh || !news.complete) return news.mesh ? news : undefined
  if (!known) return undefined
  const { surfaces, ...rest } = news
  return { ...rest, mesh: surfaces ? inMaterials(known, surfaces) : known }
}

/**
 * While Motion is looked at and something of the piece moves, makes its frames from the one that is shown on, until all are there or the cache is full. Anything that
 * changes ends it at once; it goes on when that has come to rest. Returns a function that ends it.
 */
export function keepFilling(shown: WorkbenchStore): () => void {
  const store = writable(shown)
  let timer: ReturnType<typeof setTimeout> | undefined
  let running: AbortController | undefined
  let seen: Work | undefined
  /** what could not be made, so that it is tried once */
  const failed = new Set<string>()

  /** The next frame that is not made yet, from the one that is shown on. */
  const next = (): { content: string; work: Work } | undefined => {
    const { document, pieceId, frame } = store.getState()
    const base = workOf(document, pieceId)
    if (!base) return undefined
    const frames = framesOf(document)
    const contents = Array.from({ length: frames }, (_, i) => contentAt(base, (frame + i) % frames))
    const there = new Set(contents.filter(madeFrames.has))
    // those of earlier shapes make room, those of this one do not
    if (!madeFrames.holds(there.size + 1)) return undefined
    const i = contents.findIndex((content) => !there.has(content) && !failed.has(content))
    const work = i < 0 ? undefined : workAt(document, pieceId, (frame + i) % frames)
    return work && { content: contents[i], work }
  }

  const fill = async () => {
    const mine = new AbortController()
    running = mine
    let last: { key: string; mesh: ViewMesh } | undefined
    try {
      for (let frame = next(); frame; frame = next()) {
        const { content, work } = frame
        const known = last && { key: last.key, shape: last.mesh.shape }
        const news = await desk.ask((api, job) => api.make(job, work, undefined, known, proxy(nothing)), mine.signal)
        mine.signal.throwIfAborted()
        const whole = wholeNews(news, last?.mesh)
        if (whole?.mesh && whole.key !== undefined) {
          madeFrames.put(content, whole)
          last = { key: whole.key, mesh: whole.mesh }
          store.setState((s) => ({ framesMade: s.framesMade + 1 }))
        } else failed.add(content)
      }
    } catch (error) {
      if (!mine.signal.aborted) console.error(error)
    } finally {
      if (running === mine) running = undefined
    }
  }

  const notice = () => {
    const { document, pieceId, view, until, making, playing, pulling } = store.getState()
    const base = workOf(document, pieceId)
    if (base !== seen || view !== 'Motion' || until !== undefined || pulling) {
      seen = base
      clearTimeout(timer)
      timer = undefined
      running?.abort(SUPERSEDED)
      running = undefined
    }
    // what one looks at comes first
    if (view !== 'Motion' || until !== undefined || pulling || !base || !moves(base) || running || timer !== undefined || (making && !playing)) return
    timer = setTimeout(() => {
      timer = undefined
      if (!running && next()) void fill()
    }, FILL_AFTER)
  }
  const unsubscribe = store.subscribe(notice)
  return () => {
    unsubscribe()
    clearTimeout(timer)
    running?.abort(SUPERSEDED)
  }
}

const nothing = () => {}
