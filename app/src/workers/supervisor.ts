import { type Endpoint, type Remote, releaseProxy, wrap } from 'comlink'

/** A worker as the supervisor needs it, whatever runs it. */
export interface WorkerHandle {
  readonly endpoint: Endpoint
  /** resolves once it listens */
  readonly ready: Promise<void>
  /** ends it at once, whatever it is doing */
  end(): void
  /** called when it breaks down by itself */
  onDeath(call: (reason: Error) => void): void
}

/** What every worker offers: each job has a number, by which it can be told that its result is not wanted any more. */
export interface Stoppable {
  stop(job: number): void
  /** Answers as soon as the worker hears anything. */
  hears(): void
}

/** A worker broke down in the middle of something; another one is there for what is asked next. */
export class WorkerLost extends Error {
  constructor(reason: string) {
    super(`the worker broke down: ${reason}`)
    this.name = 'WorkerLost'
  }
}

/** A worker heard nothing for so long that it was ended: a kernel or a loop in it had come to no end. */
export class WorkerDeaf extends Error {
  constructor(readonly seconds: number) {
    super(`the worker heard nothing for ${seconds} seconds and was ended`)
    this.name = 'WorkerDeaf'
  }
}

/** Given to work whose result is not wanted any more because something newer is. */
export const SUPERSEDED = new DOMException('something newer is asked for', 'AbortError')

interface Running<Api> {
  readonly worker: WorkerHandle
  readonly api: Promise<Remote<Api>>
  /** rejects when it is gone */
  readonly gone: Promise<never>
  readonly leave: (reason: Error) => void
  /** jobs in it now */
  jobs: number
  /** whether it has done a job: the first one also reads fonts and compiles kernels */
  practised: boolean
  /** looks whether it still hears while it has jobs */
  listening?: ReturnType<typeof setInterval>
}

/** Waits for a promise; rejects as soon as the signal is given. */
function until(promise: Promise<void>, signal?: AbortSignal): Promise<void> {
  return new Promise((resolve, reject) => {
    const stop = () => reject(signal?.reason)
    signal?.addEventListener('abort', stop, { once: true })
    void promise.then(() => {
      signal?.removeEventListener('abort', stop)
      resolve()
    })
  })
}

/** Ended because a job in it did not stop by itself. */
class Ended extends Error {}

interface SupervisorOptions<Api> {
  /** no worker is started for what is asked before this resolves */
  readonly after?: Promise<void>
  /** what a fresh worker is told before anything is asked of it; `gone` resolves when it is not there any more */
  readonly begin?: (api: Remote<Api>, gone: Promise<void>) => Promise<void>
  /** how long a job whose result is SUPERSEDED may go on before its worker is ended, ms */
  readonly patience?: number
  /** how long a worker may hear nothing in the middle of a job before it is ended and its jobs fail with WorkerDeaf, ms */
  readonly deafness?: number
  /** told when a worker was ended or broke down and a fresh one takes its place */
  readonly onAfresh?: (why: 'ended' | 'broken') => void
}

/**
 * Stands before a worker that may be busy in a kernel or a long loop and hear nothing. Whoever asks waits no longer than they want to: a
 * job whose signal is given is rejected at once, and if the worker has not stopped it soon, the worker is ended and a fresh one,
 * started while the job was found to take long, takes over; other jobs that were in it are asked again there. A worker that breaks down by itself rejects what was
 * asked of it with WorkerLost, and one that hears nothing for too long is ended and rejects it with WorkerDeaf.
 */
export class Supervisor<Api extends Stoppable> {
  private running: Running<Api> | undefined
  private spare: Running<Api> | undefined
  private jobs = 0

  constructor(
    private readonly open: () => WorkerHandle,
    private readonly options: SupervisorOptions<Api> = {},
  ) {}

  /** Whether there is a worker by now. */
  get started(): boolean {
    return this.running !== undefined
  }

  /** Starts the worker before anything is asked of it. */
  warm(): void {
    this.current()
  }

  /** Runs a job in the worker. Rejects with the signal's reason, with WorkerLost, or with what the job throws. */
  async ask<T>(run: (api: Remote<Api>, job: number) => Promise<T>, signal?: AbortSignal): Promise<T> {
    signal?.throwIfAborted()
    if (this.options.after) await until(this.options.after, signal)
    for (;;) {
      const running = this.current()
      const job = ++this.jobs
      let settled = false
      let long: ReturnType<typeof setTimeout> | undefined
      const work = (async () => {
        const api = await running.api
        long = setTimeout(() => this.prepare(), running.practised ? LONG : LONG_AT_FIRST)
        return run(api, job)
      })()
      this.listen(running)
      const mark = () => {
        settled = true
        running.practised = true
        clearTimeout(long)
        if (--running.jobs === 0) clearInterval(running.listening)
      }
      work.then(mark, mark)
      let stop: (() => void) | undefined
      const stopped = new Promise<never>((_, reject) => {
        if (!signal) return
        stop = () => {
          reject(signal.reason)
          void running.api.then((api) => api.stop(job)).catch(() => {})
          setTimeout(
            () => {
              if (!settled) this.end(running)
            },
            signal.reason === SUPERSEDED ? (this.options.patience ?? SUPERSEDED_PATIENCE) : PATIENCE,
          )
        }
        if (signal.aborted) stop()
        else signal.addEventListener('abort', stop, { once: true })
      })
      stopped.catch(() => {})
      try {
        return await Promise.race([work, running.gone, stopped])
      } catch (error) {
        // ended for another job's sake: this one is asked again
        if (error instanceof Ended && !signal?.aborted) continue
        if (error instanceof Ended) throw signal?.reason
        throw error
      } finally {
        if (stop) signal?.removeEventListener('abort', stop)
      }
    }
  }

  /** Gives the worker up, as when a kernel in it cannot be used any more; what is still asked of it is asked again of a fresh one. */
  renew(): void {
    if (this.running) this.end(this.running)
  }

  /** Ends everything. */
  close(): void {
    for (const running of [this.running, this.spare]) running?.leave(new Error('closed'))
    this.running = this.spare = undefined
  }

  private current(): Running<Api> {
    if (!this.running) {
      this.running = this.spare ?? this.start()
      this.spare = undefined
    }
    return this.running
  }

  /** A second worker is started once a job takes long: what is made at once is not worth the second of work that a worker takes to start, nor its memory. */
  private prepare(): void {
    if (this.running) this.spare ??= this.start()
  }

  private start(): Running<Api> {
    const worker = this.open()
    let reject: (reason: Error) => void = () => {}
    const gone = new Promise<never>((_, no) => {
      reject = no
    })
    gone.catch(() => {})
    let over = false
    let remote: Remote<Api> | undefined
    const leave = (reason: Error) => {
      if (over) return
      over = true
      clearInterval(running.listening)
      reject(reason)
      remote?.[releaseProxy]()
      worker.end()
    }
    const api = (async () => {
      await worker.ready
      remote = wrap<Api>(worker.endpoint)
      await this.options.begin?.(
        remote,
        gone.catch(() => {}),
      )
      return remote
    })()
    api.catch(() => {})
    const running: Running<Api> = { worker, api, gone, leave, jobs: 0, practised: false }
    worker.onDeath((reason) => {
      if (over) return
      leave(new WorkerLost(reason.message))
      this.forget(running)
      this.options.onAfresh?.('broken')
    })
    return running
  }

  /**
   * Asks a worker that has jobs now and then whether it hears. Only the times it was asked in vain are counted, since a machine that slept
   * has heard nothing either.
   */
  private listen(running: Running<Api>): void {
    if (running.jobs++ > 0) return
    const deafness = this.options.deafness ?? DEAFNESS
    let vain = 0
    let api: Remote<Api> | undefined
    running.api.then((ready) => (api = ready)).catch(() => {})
    let asked = false
    running.listening = setInterval(() => {
      if (!api) return
      if (!asked) {
        asked = true
        const heard = () => {
          asked = false
          vain = 0
        }
        Promise.resolve(api.hears()).then(heard, heard)
      } else if (++vain >= TIMES) {
        running.leave(new WorkerDeaf(Math.round(deafness / 1000)))
        this.forget(running)
        this.options.onAfresh?.('ended')
        this.current()
      }
    }, deafness / TIMES)
  }

  private end(running: Running<Api>): void {
    if (this.running !== running) return running.leave(new Ended())
    this.forget(running)
    running.leave(new Ended())
    this.options.onAfresh?.('ended')
    // the next one begins to get ready at once
    this.current()
  }

  private forget(running: Running<Api>): void {
    if (this.running === running) this.running = undefined
    if (this.spare === running) this.spare = undefined
  }
}

/** A job that takes longer may have to be ended, ms. */
const LONG = 800
/** The same of a worker's first job. */
const LONG_AT_FIRST = 2500

/** Steps look for the signal every 12 ms; what has not stopped after this is in a kernel or a loop. */
const PATIENCE = 60

/** While a number is dragged one result after another is not wanted any more: a worker that is nearly done is sooner free than a fresh one is ready. */
const SUPERSEDED_PATIENCE = 500

/** The longest that any kernel has taken in one go on slow machines, for the largest models that are read, and as much again. */
const DEAFNESS = 90_000
/** how often it is asked meanwhile */
const TIMES = 18
