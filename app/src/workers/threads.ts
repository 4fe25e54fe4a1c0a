import { MOST_THREADS, type StartedThread, ThreadPool } from '@kelvar/core/parallel/thread-pool'
import { wrap } from 'comlink'
import { browserWorker } from './browser-worker'
import type { WorkerHandle } from './supervisor'
import type { ThreadApi } from './thread.worker'

/** Workers beside a maker. */
export class WorkerThreads extends ThreadPool {
  constructor(
    count = Math.min(MOST_THREADS, navigator.hardwareConcurrency - 1),
    open: () => WorkerHandle = () => browserWorker(new Worker(new URL('./thread.worker.ts', import.meta.url), { type: 'module' })),
  ) {
    super(count, () => started(open()))
  }
}

function started(worker: WorkerHandle): StartedThread {
  let reject: (reason: Error) => void = () => {}
  const gone = new Promise<never>((_, no) => {
    reject = no
  })
  gone.catch(() => {})
  const end = (reason: Error) => {
    reject(reason)
    worker.end()
  }
  worker.onDeath(end)
  const api = worker.ready.then(() => wrap<ThreadApi>(worker.endpoint))
  api.catch(end)
  const run = async (task: string, data: unknown) => (await Promise.race([api, gone])).run(task, data)
  return { run: (task, data) => Promise.race([run(task, data), gone]), gone, end }
}
