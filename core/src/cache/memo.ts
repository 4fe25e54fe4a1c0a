import { LRUCache } from 'lru-cache'
import { measure } from './measure'

interface Entry {
  readonly value: unknown
  /** what it takes besides its buffers */
  readonly bytes: number
  readonly buffers: readonly ArrayBufferLike[]
}

interface Flight {
  readonly made: Promise<unknown>
  readonly controller: AbortController
  readonly listeners: Set<(...news: unknown[]) => void>
  asking: number
}

/**
 * Results kept by key, least recently used dropped first so that all together stay within `limit` bytes. Bytes are counted as they are
 * held: strings, lists and objects, and every buffer once however many results share it. Values are shared: whoever gets one must not
 * change it.
 */
export class Memo {
  private readonly entries: LRUCache<string, Entry>
  private readonly holders = new Map<ArrayBufferLike, number>()
  private readonly flights = new Map<string, Flight>()
  private held = 0

  constructor(readonly limit = 256 * 1024 * 1024) {
    this.entries = new LRUCache<string, Entry>({
      // the bound is kept here, since what an entry takes changes as others that share its buffers come and go
      maxSize: Number.MAX_SAFE_INTEGER,
      sizeCalculation: () => 1,
      dispose: (entry) => this.release(entry),
    })
  }

  get size(): number {
    return this.entries.size
  }

  /** Bytes held. */
  get bytes(): number {
    return this.held
  }

  /** The kept value, or undefined; does not make one. */
  peek<T>(key: string): T | undefined {
    return this.entries.get(key)?.value as T | undefined
  }

  /** The kept value, or a new one from `make`. A throwing `make` keeps nothing. */
  get<T>(key: string, make: () => T): T {
    const known = this.entries.get(key)
    if (known) return known.value as T
    const value = make()
    this.put(key, value)
    return value
  }

  /** Keeps a value; one that is larger than the bound by itself is not kept. */
  put(key: string, value: unknown): void {
    const { bytes, buffers } = measure(value)
    this.entries.delete(key)
    const entry: Entry = { value, bytes: bytes + 2 * key.length + ENTRY, buffers }
    if (entry.bytes + buffers.reduce((sum, buffer) => sum + buffer.byteLength, 0) > this.limit) return
    this.held += entry.bytes
    for (const buffer of buffers) {
      const holders = this.holders.get(buffer) ?? 0
      if (holders === 0) this.held += buffer.byteLength
      this.holders.set(buffer, holders + 1)
    }
    this.entries.set(key, entry)
    while (this.held > this.limit && this.entries.pop());
  }

  private release({ bytes, buffers }: Entry): void {
    this.held -= bytes
    for (const buffer of buffers) {
      const holders = this.holders.get(buffer) as number
      if (holders > 1) this.holders.set(buffer, holders - 1)
      else {
        this.holders.delete(buffer)
        this.held -= buffer.byteLength
      }
    }
  }

  /**
   * Runs `make` once for a key, however many ask for it at the same time: all get its result, hear its progress, and may each stop asking by
   * a signal of their own, which rejects with its reason. When nobody asks any more the run's own signal is given. Keeps nothing by itself.
   */
  async share<T, News extends readonly unknown[]>(
    key: string,
    make: (signal: AbortSignal, tell: (...news: News) => void) => Promise<T>,
    signal?: AbortSignal,
    tell?: (...news: News) => void,
  ): Promise<T> {
    signal?.throwIfAborted()
    const flight = this.flightFor(key, make)
    const { made, controller, listeners } = flight
    const listener = tell as ((...news: unknown[]) => void) | undefined
    flight.asking++
    if (listener) listeners.add(listener)
    let stop: (() => void) | undefined
    try {
      if (!signal) return (await made) as T
      return (await Promise.race([
        made,
        new Promise((_, reject) => {
          stop = () => reject(signal.reason)
          signal.addEventListener('abort', stop, { once: true })
        }),
      ])) as T
    } finally {
      if (stop) signal?.removeEventListener('abort', stop)
      if (listener) listeners.delete(listener)
      if (--flight.asking === 0) controller.abort(signal?.reason)
    }
  }

  /** The run that goes on for a key, or a new one. */
  private flightFor<T, News extends readonly unknown[]>(key: string, make: (signal: AbortSignal, tell: (...news: News) => void) => Promise<T>): Flight {
    const going = this.flights.get(key)
    if (going && !going.controller.signal.aborted) return going
    const controller = new AbortController()
    const listeners: Flight['listeners'] = new Set()
    const made = make(controller.signal, (...news) => {
      for (const listener of listeners) listener(...news)
    })
    const flight: Flight = { made, controller, listeners, asking: 0 }
    this.flights.set(key, flight)
    const ended = () => {
      if (this.flights.get(key) === flight) this.flights.delete(key)
    }
    // those who asked hear of a failure; a run that nobody asks for any more may fail unheard
    made.then(ended, ended)
    return flight
  }
}

/** What the cache itself takes for an entry, about. */
const ENTRY = 160
