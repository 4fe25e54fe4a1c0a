import { availableParallelism } from 'node:os'
import { Worker } from 'node:worker_threads'
import { MOST_THREADS, type StartedThread, ThreadPool } from '../src/parallel/thread-pool'

const ENTRY = new URL('./thread.mjs', import.meta.url)

/** Threads of this process beside its first: one less than there are cores. They keep no process from ending. `entry`: what runs in them. */
export const nodeThreads = (entry = ENTRY, count = Math.min(MOST_THREADS, availableParallelism() - 1)): ThreadPool =>
  new ThreadPool(count, () => started(new Worker(entry)))

/** What a thread answers: what came of a task, or what it threw. */
interface Answer {
  readonly id: number
  readonly value?: unknown
  readonly failed?: { readonly error: unknown }
}

interface Waiting {
  resolve(value: unknown): void
  reject(reason: unknown): void
}

function started(worker: Worker): StartedThread {
  const waiting = new Map<number, Waiting>()
  let count = 0
  let lose: (reason: Error) => void = () => {}
  const gone = new Promise<never>((_, no) => {
    lose = no
  })
  gone.catch(() => {})
  worker.on('message', ({ id, value, failed }: Answer) => {
    const asked = waiting.get(id)
    waiting.delete(id)
    // only what is waited for keeps the process alive
    if (waiting.size === 0) worker.unref()
    if (failed) asked?.reject(failed.error)
    else asked?.resolve(value)
  })
  worker.on('error', lose)
  worker.on('exit', (code) => lose(new Error(`the thread ended with ${code}`)))
  worker.unref()
  const run = (task: string, data: unknown) =>
    new Promise<unknown>((resolve, reject) => {
      const id = count++
      waiting.set(id, { resolve, reject })
      worker.ref()
      worker.postMessage({ id, task, data })
    })
  return {
    run: (task, data) => Promise.race([run(task, data), gone]),
    gone,
    end: (reason) => {
      lose(reason)
      void worker.terminate()
    },
  }
}
