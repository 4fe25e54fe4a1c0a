import type { Thread, Threads } from '@kelvar/core/parallel/share-out'
import { wrap } from 'comlink'
import { browserWorker } from './browser-worker'
import type { WorkerHandle } from './supervisor'
import type { ThreadApi } from './thread.worker'

/** No more than so many are started, however many cores there are: each takes memory. */
const MOST = 6
/** One that has had nothing to do for so long is ended, ms. */
const IDLE = 20_000

interface Running {
  readonly thread: Thread
  /** rejects when it is gone */
  readonly gone: Promise<never>
  end(reason: Error): void
  idle?: ReturnType<typeof setTimeout>
}

/** Workers beside a maker, started when they are first wanted and ended when they are not. */
export class WorkerThreads implements Threads {
  private readonly free: Running[] = []
  private lent = 0

  constructor(
    /** how many there are at most */
    readonly count = Math.min(MOST, navigator.hardwareConcurrency - 1),
    private readonly open: () => WorkerHandle = () => browserWorker(new Worker(new URL('./thread.worker.ts', import.meta.url), { type: 'module' })),
  ) {}

  get ready(): boolean {
    return this.free.length > 0 && this.lent < this.count
  }

  async lend(work: (thread: Thread) => Promise<void>, signal: AbortSignal): Promise<void> {
    signal.throwIfAborted()
    if (this.lent >= this.count) return
    this.lent++
    const running = this.free.pop() ?? this.start()
    clearTimeout(running.idle)
    const stop = () => running.end(signal.reason as Error)
    signal.addEventListener('abort', stop, { once: true })
    try {
      await Promise.race([work(running.thread), running.gone])
      running.idle = setTimeout(() => this.drop(running), IDLE)
      this.free.push(running)
    } catch (error) {
      running.end(error as Error)
      throw error
    } finally {
      signal.removeEventListener('abort', stop)
      this.lent--
    }
  }

  private drop(running: Running): void {
    this.free.splice(this.free.indexOf(running), 1)
    running.end(new Error('nothing to do'))
  }

  private start(): Running {
    const worker = this.open()
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
    return { thread: { run: (task, data) => Promise.race([run(task, data), gone]) }, gone, end }
  }
}
