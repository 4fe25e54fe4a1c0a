import { proxy, type Remote, wrap } from 'comlink'
import type { MakerApi } from './messages'

/** Starts a worker that makes solids; resolves once it listens. Two are used: one for the view, one for slow questions. */
function startMaker(): Promise<Remote<MakerApi>> {
  const worker = new Worker(new URL('./maker.worker.ts', import.meta.url), { type: 'module' })
  return new Promise((resolve, reject) => {
    worker.addEventListener('error', (event) => reject(new Error(event.message || 'the worker did not start')), { once: true })
    worker.addEventListener('message', function ready(event) {
      if (event.data !== 'ready') return
      worker.removeEventListener('message', ready)
      resolve(wrap<MakerApi>(worker))
    })
  })
}

/** One worker started at first use; a failed start is tried again by the next caller. */
function once(): () => Promise<Remote<MakerApi>> {
  let maker: Promise<Remote<MakerApi>> | undefined
  return () => {
    maker ??= startMaker().catch((error) => {
      maker = undefined
      throw error
    })
    return maker
  }
}

/** For what the view shows: always free for the next keystroke. */
export const makerForView = once()

/** For pictures, checks and files, which may take seconds. */
export const makerForQuestions = once()

export { proxy }
