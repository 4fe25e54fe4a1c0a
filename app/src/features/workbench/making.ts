import { makerForQuestions, makerForView, proxy } from '@/workers/maker'
import type { Work } from '@/workers/messages'
import { currentWork, type WorkbenchStore } from './store'

/** How long nothing must change before the slow check for self-crossings begins, ms. */
const CHECK_AFTER = 350

/**
 * Keeps the view up to date with the document: whenever the present piece's route or the look-until step changes, the
 * worker makes it anew; the last good solid stays until then. Returns a function that ends it.
 */
export function keepMaking(store: WorkbenchStore): () => void {
  let ended = false
  let run = 0
  let checkTimer: ReturnType<typeof setTimeout> | undefined
  let seenWork: Work | undefined
  let seenUntil: string | undefined

  const make = async () => {
    const state = store.getState()
    const work = currentWork(state)
    clearTimeout(checkTimer)
    const mine = ++run
    if (!work) {
      store.setState({ news: undefined, mesh: undefined, meshKey: undefined, making: false, report: undefined })
      return
    }
    store.setState({ making: true, stopped: false })
    try {
      const maker = await makerForView()
      if (mine !== run) return
      const news = await maker.make(
        work,
        state.until,
        state.meshKey,
        proxy((step: string, done: number) => {
          if (mine === run) store.setState({ progress: { step, done } })
        }),
      )
      if (ended || mine !== run) return
      // ended by a person: the last good result stays on view
      if (!news) return store.setState({ making: false, progress: undefined, stopped: true })
      // an outline has no solid: the last one must not be shown for it
      const drawn = news.mesh
        ? { mesh: news.mesh, meshKey: news.key, meshPiece: work.piece }
        : news.key === state.meshKey
          ? { meshPiece: work.piece }
          : news.complete
            ? { mesh: undefined, meshKey: undefined }
            : {}
      store.setState({ news, making: false, progress: undefined, fault: undefined, ...drawn })
      if (news.complete && news.key) checkTimer = setTimeout(() => check(work, state.until, news.key as string), CHECK_AFTER)
    } catch (error) {
      console.error(error)
      if (!ended && mine === run)
        store.setState({ making: false, progress: undefined, fault: 'The workshop’s worker does not answer. Reload the page; your changes are kept.' })
    }
  }

  const check = async (work: Work, until: string | undefined, key: string) => {
    if (store.getState().report?.key === key) return
    try {
      const maker = await makerForQuestions()
      const report = await maker.check(work, until)
      if (!ended && report && store.getState().news?.key === key) store.setState({ report: { key, check: report } })
    } catch (error) {
      console.error(error)
    }
  }

  let stopped = false
  const look = () => {
    const state = store.getState()
    const work = currentWork(state)
    // "stopped" taken back asks for the same once more
    const again = stopped && !state.stopped && !state.making
    stopped = state.stopped
    if (work === seenWork && state.until === seenUntil && !again) return
    seenWork = work
    seenUntil = state.until
    void make()
  }
  const unsubscribe = store.subscribe(look)
  look()
  return () => {
    ended = true
    clearTimeout(checkTimer)
    unsubscribe()
  }
}

/** Ends what is being made for the view. */
export const stopMaking = async (): Promise<void> => (await makerForView()).stop()
