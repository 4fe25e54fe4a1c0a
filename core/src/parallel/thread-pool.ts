import type { Thread, Threads } from './share-out'

/** No more threads than this are of use, however many cores there are: each takes memory. */
export const MOST_THREADS = 6
/** One that has had nothing to do for so long is ended, ms. */
const IDLE = 20_000

/** A thread that was started, whatever runs it. */
export interface StartedThread extends Thread {
  /** rejects when it is gone; until then all that it runs is waited for */
  readonly gone: Promise<never>
  /** ends it at once, whatever it is doing */
  end(reason: Error): void
}

interface Kept {
  readonly thread: StartedThread
  idle?: ReturnType<typeof setTimeout>
}

/** Threads beside the one that asks, started when they are first wanted and ended when they are not. */
export class ThreadPool implements Threads {
  private readonly free: Kept[] = []
  private lent = 0

  constructor(
    /** how many there are at most */
    readonly count: number,
    private readonly start: () => StartedThread,
  ) {}

  get ready(): boolean {
    return this.free.length > 0 && this.lent < this.count
  }

  async lend(work: (thread: Thread) => Promise<void>, signal: AbortSignal): Promise<void> {
    signal.throwIfAborted()
    if (this.lent >= this.count) return
    this.lent++
    const kept = this.free.pop() ?? { thread: this.start() }
    clearTimeout(kept.idle)
    const { thread } = kept
    const stop = () => thread.end(signal.reason as Error)
    signal.addEventListener('abort', stop, { once: true })
    try {
      await Promise.race([work(thread), thread.gone])
      kept.idle = setTimeout(() => this.drop(kept), IDLE)
      // Node.js would not end before
      ;(kept.idle as { unref?: () => void }).unref?.()
      this.free.push(kept)
    } catch (error) {
      thread.end(error as Error)
      throw error
    } finally {
      signal.removeEventListener('abort', stop)
      this.lent--
    }
  }

  private drop(kept: Kept): void {
    this.free.splice(this.free.indexOf(kept), 1)
    kept.thread.end(new Error('nothing to do'))
  }
}
