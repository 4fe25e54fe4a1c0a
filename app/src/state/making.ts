import { desk, onAfresh, proxy, viewMaker } from '@/workers/maker'
import type { StepIssue } from '@kelvar/core/steps/step'
import type { RouteNews, Work } from '@/workers/messages'
import { inMaterials, isThere, type ViewMesh } from '@/workers/view-mesh'
import { SUPERSEDED, WorkerDeaf } from '@/workers/supervisor'
import { type WorkbenchStore, writable } from './store'
import { beginMaking } from './at-rest'
import { firstFrame, freeMachine, lookIsComing } from './first-frame'
import { lastLook, rememberLook } from './last-look'
import { madeFrames, wholeNews } from './filling'
import { contentAt, currentWork, isLight, moves, weigh, workOf } from './work'

/** How long nothing must change before the slow check for self-crossings begins, ms. */
const CHECK_AFTER = 350

/** Given when a person ends it. */
const STOPPED = new DOMException('stopped', 'AbortError')

const endings = new WeakMap<WorkbenchStore, () => void>()

/**
 * Keeps the view up to date with the document: whenever the present piece's route or the look-until step changes, the
 * worker makes it anew; the last good solid stays until then. Returns a function that ends it.
 */
export function keepMaking(shown: WorkbenchStore): () => void {
  const store = writable(shown)
  let ended = false
  let running: AbortController | undefined
  let looking: AbortController | undefined
  let lookTimer: ReturnType<typeof setTimeout> | undefined
  let seenWork: Work | undefined
  let seenUntil: string | undefined

  const make = async () => {
    const { until } = store.getState()
    const work = currentWork(store.getState())
    clearTimeout(lookTimer)
    running?.abort(SUPERSEDED)
    looking?.abort(SUPERSEDED)
    running = undefined
    if (!work) {
      store.setState({ news: undefined, mesh: undefined, meshKey: undefined, making: false, report: undefined, picking: undefined })
      return
    }
    const { document, frame, id: project } = store.getState()
    const base = workOf(document, work.piece)
    const content = until === undefined && base && moves(base) ? contentAt(base, frame) : undefined
    const made = content === undefined ? undefined : madeFrames.get(content)
    if (made) {
      store.setState({ stopped: false, afresh: false })
      show(made, work)
      if (!store.getState().playing && made.key) lookTimer = setTimeout(() => void look(work, until, made.key as string), CHECK_AFTER)
      return
    }
    const mine = new AbortController()
    running = mine
    const over = beginMaking()
    store.setState({ making: true, stopped: false, afresh: false })
    try {
      const progress = (step: string, done: number, of?: string, expected?: string) => {
        if (running !== mine) return
        // told once, it holds for all of the step's work
        store.setState(({ progress: last }) => ({ progress: { step, done, of, expected: expected ?? (last?.step === step ? last.expected : undefined) } }))
      }
      // what is shown by the time the worker is ready need not be sent again
      const known = () => {
        const { mesh, meshKey } = store.getState()
        return mesh && meshKey !== undefined ? { key: meshKey, shape: mesh.shape } : undefined
      }
      // of what is changed by hand a first sight comes before what takes long; what comes anew has its last look
      const sketch = (key: string, mesh: ViewMesh) => {
        if (!ended && running === mine) store.setState({ mesh, meshKey: key, meshPiece: work.piece, roughKey: key })
      }
      const byHand = store.getState().news !== undefined && !store.getState().playing
      const news = await viewMaker.ask(
        (api, job) => api.make(job, { ...work, project }, until, known(), proxy(progress), byHand ? proxy(sketch) : undefined),
        mine.signal,
      )
      if (news.kernelLost) viewMaker.renew()
      if (ended || running !== mine) return
      if (news.complete && until === undefined)
        weigh(
          work,
          news.steps.map((step) => step.triangles ?? 0),
        )
      show(news, work)
      if (content !== undefined) {
        const { mesh, meshKey } = store.getState()
        const whole = meshKey === news.key ? wholeNews({ ...news, surfaces: undefined }, mesh) : undefined
        if (whole?.mesh) {
          madeFrames.put(content, whole)
          store.setState((s) => ({ framesMade: s.framesMade + 1 }))
        }
      }
      running = undefined
      // while frames pass by the next one is made when this one stands: none is stopped halfway, and those between are left out
      if (store.getState().playing) return notice()
      if (news.complete && news.key) lookTimer = setTimeout(() => void look(work, until, news.key as string), CHECK_AFTER)
    } catch (error) {
      if (ended || running !== mine) return
      // ended by a person: the last good result stays on view
      if (error === STOPPED) return store.setState((s) => ({ making: false, progress: undefined, stopped: true, stoppedAt: s.progress?.step }))
      console.error(error)
      if (error instanceof WorkerDeaf) {
        const { news, progress } = store.getState()
        return store.setState({ making: false, progress: undefined, fault: undefined, news: endless(work, progress?.step, news, error.seconds) })
      }
      store.setState({
        making: false,
        progress: undefined,
        fault: 'The worker that makes things broke down. Change something to try again, or reload the page; your changes are kept.',
      })
    } finally {
      over()
    }
  }

  /** An outline has no solid: the last one must not be shown for it. */
  const show = (news: RouteNews, work: Work) => {
    const { mesh, meshKey, report, picking, thinnest } = store.getState()
    if (news.surfaces && news.key !== undefined && mesh) {
      const { surfaces, key } = news
      // the same shape in other materials: what was found out of it holds
      store.setState({
        ...(report?.key === meshKey && report ? { report: { ...report, key } } : {}),
        ...(thinnest?.key === meshKey && thinnest ? { thinnest: { ...thinnest, key } } : {}),
        ...(picking?.key === meshKey && picking
          ? { picking: { ...picking, key, ...(picking.lighter ? { lighter: inMaterials(picking.lighter, surfaces) } : {}) } }
          : {}),
        mesh: inMaterials(mesh, surfaces),
        meshKey: key,
        meshPiece: work.piece,
        ...(store.getState().playing ? {} : { news }),
        making: false,
        progress: undefined,
        fault: undefined,
      })
      return
    }
    const drawn =
      news.mesh && news.key !== meshKey
        ? { mesh: news.mesh, meshKey: news.key, meshPiece: work.piece }
        : news.key === meshKey
          ? { meshPiece: work.piece }
          : news.complete
            ? { mesh: undefined, meshKey: undefined }
            : {}
    // what is told of the steps waits while frames pass by: the page would not keep up with them
    const told = store.getState().playing && news.complete ? {} : { news }
    store.setState({ ...told, making: false, progress: undefined, fault: undefined, ...drawn })
  }

  /** What is wanted of a result once it stands for a moment: its check, and what makes picking fast. */
  const look = async (work: Work, until: string | undefined, key: string) => {
    const mine = new AbortController()
    looking = mine
    const current = () => !ended && store.getState().news?.key === key
    const { id, mesh, meshKey } = store.getState()
    // a piece of which nothing is there yet has no look
    if (mesh && isThere(mesh) && meshKey === key && until === undefined && !work.moment)
      rememberLook(id, work.piece, { key, mesh }).catch((error) => console.error(error))
    // what is looked at in a moment need not wait for a second worker, nor is it in the way of the next keystroke
    const worker = isLight(work) ? viewMaker : desk
    try {
      if (store.getState().report?.key !== key) {
        const report = await worker.ask((api, job) => api.check(job, work, until), mine.signal)
        if (report && current()) store.setState({ report: { key, check: report } })
      }
      if (store.getState().picking?.key !== key) {
        const picking = await worker.ask((api, job) => api.forPicking(job, work, until), mine.signal)
        if (picking && current()) store.setState({ picking })
      }
      const { report, thinnest } = store.getState()
      // of what is open nothing can be said
      if (report?.key === key && report.check.closed && thinnest?.key !== key) {
        const found = await worker.ask((api, job) => api.thinnest(job, work, until), mine.signal)
        if (found && current()) store.setState({ thinnest: { key, ...found } })
      }
    } catch (error) {
      if (!mine.signal.aborted) console.error(error)
    }
  }

  // what the piece looked like when it was last seen stands until it is made: most often nothing has changed, and it is found to be the same
  const { id, pieceId } = store.getState()
  const looked = lastLook(id, pieceId)
    .then((look) => {
      const state = store.getState()
      if (!look || ended || state.mesh !== undefined || state.news !== undefined || state.pieceId !== pieceId) return false
      const work = currentWork(state)
      if (work) weigh(work, [look.mesh.indices.length / 3])
      store.setState({ mesh: look.mesh, meshKey: look.key, meshPiece: pieceId })
      return true
    })
    .catch((error) => {
      console.error(error)
      return false
    })

  let stopped = false
  let played = false
  // the first frame has the machine to itself
  let waiting = lookIsComing()
  const notice = () => {
    if (waiting) return
    const state = store.getState()
    const work = currentWork(state)
    // "stopped" taken back asks for the same once more
    const again = (stopped && !state.stopped && !state.making) || (played && !state.playing && !state.making)
    stopped = state.stopped
    played = state.playing
    if (work === seenWork && state.until === seenUntil && !again) return
    if (state.playing && running) return
    seenWork = work
    seenUntil = state.until
    void make()
  }
  endings.set(shown, () => running?.abort(STOPPED))
  const unsubscribe = store.subscribe(notice)
  const unheard = onAfresh(() => store.setState({ afresh: true }))
  const begin = async () => {
    if (await looked) await Promise.race([firstFrame, pause(FIRST_FRAME)])
    freeMachine()
    waiting = false
    if (!ended) notice()
  }
  if (waiting) void begin()
  else {
    freeMachine()
    notice()
  }
  return () => {
    ended = true
    running?.abort(SUPERSEDED)
    looking?.abort(SUPERSEDED)
    clearTimeout(lookTimer)
    endings.delete(shown)
    unheard()
    unsubscribe()
  }
}

/** What becomes known of a route in which a step came to no end: that step failed, those after it wait. */
function endless(work: Work, at: string | undefined, before: RouteNews | undefined, seconds: number): RouteNews {
  const found = work.route.findIndex(({ id }) => id === at)
  const where = found < 0 ? work.route.findIndex(({ on }) => on) : found
  return {
    steps: work.route.map(({ id, on }, i) => {
      if (!on) return { id, state: 'off', issues: [], ms: 0 }
      if (i < where) return before?.steps.find((step) => step.id === id && step.state !== 'waiting') ?? { id, state: 'sound', issues: [], ms: 0 }
      return i > where ? { id, state: 'waiting', issues: [], ms: 0 } : { id, state: 'failed', issues: [comesToNoEnd(seconds)], ms: seconds * 1000 }
    }),
    complete: false,
    ms: seconds * 1000,
  }
}

const comesToNoEnd = (seconds: number): StepIssue => ({
  severity: 'failed',
  code: 'no-end',
  message: `It worked for ${seconds} seconds without a pause and was ended: it may never have come to an end.`,
  remedy: 'Choose coarser settings or a simpler file here, or switch the step off. Your changes are kept.',
})

/** How long what makes pieces waits for the first frame, ms. */
const FIRST_FRAME = 1500
const pause = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms))

/** Ends what is being made for the view. */
export const stopMaking = (store: WorkbenchStore): void => endings.get(store)?.()
