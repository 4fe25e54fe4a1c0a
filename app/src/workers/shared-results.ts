import { Memo } from '@kelvar/core/cache/memo'
import type { Elsewhere } from '@kelvar/core/evaluate/route'
import type { StepOutcome } from '@kelvar/core/steps/step'

/** A result on its way between workers. */
export interface SharedResult {
  readonly key: string
  readonly outcome: StepOutcome
  /** the shared memory it lies in, by name: a thread gets a new object for the same memory with every message */
  readonly memory: readonly (readonly [name: string, memory: SharedArrayBuffer])[]
}

/** What goes between workers: a result, or that one of them has begun to make what has this key, or has ended doing so. */
export type SharedNews = SharedResult | { readonly begun: string } | { readonly ended: string }

/** In a worker: what the other workers are making just now. */
export class MadeElsewhere implements Elsewhere {
  /** how many make it, and who waits for them here */
  private readonly making = new Map<string, { count: number; readonly done: Promise<void>; readonly tell: () => void }>()

  /** false for a worker that makes what it is asked for itself, so that it tells how far it is and stops when it is stopped */
  waits = true

  constructor(private readonly send: (news: SharedNews) => void) {}

  awaited(key: string): Promise<void> | undefined {
    return this.waits ? this.making.get(key)?.done : undefined
  }

  begin(key: string): () => void {
    this.send({ begun: key })
    return () => this.send({ ended: key })
  }

  /** Takes in what another worker has begun or ended. */
  hear(news: Exclude<SharedNews, SharedResult>): void {
    if ('begun' in news) {
      const there = this.making.get(news.begun)
      if (there) there.count++
      else {
        let tell = () => {}
        const done = new Promise<void>((resolve) => {
          tell = resolve
        })
        this.making.set(news.begun, { count: 1, done, tell })
      }
      return
    }
    const there = this.making.get(news.ended)
    if (!there || --there.count > 0) return
    this.making.delete(news.ended)
    there.tell()
  }
}

/** The shared memory a thread knows, so that what is of several results is held, and counted, once. */
export class SharedMemory {
  private readonly names = new WeakMap<SharedArrayBuffer, string>()
  private readonly known = new Map<string, WeakRef<SharedArrayBuffer>>()

  /** A result as it goes to other threads. */
  packed(key: string, outcome: StepOutcome): SharedResult {
    const memory = new Map<string, SharedArrayBuffer>()
    mapArrays(outcome, (array) => {
      if (array.buffer instanceof SharedArrayBuffer) memory.set(this.nameOf(array.buffer), array.buffer)
      return array
    })
    return { key, outcome, memory: [...memory] }
  }

  /** A result that came from another thread, in the memory this one knows already as far as it is the same. */
  adopted({ key, outcome, memory }: SharedResult): SharedResult {
    const held = new Map(memory.map(([name, buffer]) => [buffer, this.heldAs(name, buffer)]))
    const own = mapArrays(outcome, (array) => {
      const buffer = held.get(array.buffer as SharedArrayBuffer)
      return buffer && buffer !== array.buffer ? new (array.constructor as NumbersOf)(buffer, array.byteOffset, array.length) : array
    })
    return { key, outcome: own as StepOutcome, memory: memory.map(([name, buffer]) => [name, held.get(buffer) ?? buffer]) }
  }

  private nameOf(buffer: SharedArrayBuffer): string {
    let name = this.names.get(buffer)
    if (name === undefined) this.keep((name = crypto.randomUUID()), buffer)
    return name
  }

  private heldAs(name: string, buffer: SharedArrayBuffer): SharedArrayBuffer {
    const known = this.known.get(name)?.deref()
    if (known) return known
    this.keep(name, buffer)
    return buffer
  }

  private keep(name: string, buffer: SharedArrayBuffer): void {
    this.names.set(buffer, name)
    this.known.set(name, new WeakRef(buffer))
    if (this.known.size % 256 === 0) for (const [n, ref] of this.known) if (!ref.deref()) this.known.delete(n)
  }
}

/** Results of steps that all workers have in common hold at most this, bytes. */
const SHARED_BOUND = 256 * 1024 * 1024

/**
 * On the page: hands what one worker has made on to the others, and to those that are started later. The arrays lie in shared memory, so
 * nothing is copied; the page only holds on to them, within a bound.
 */
export class SharedResults {
  private readonly kept = new Map<string, SharedResult>()
  private readonly bound = new Memo(SHARED_BOUND)
  private readonly memory = new SharedMemory()
  /** the lines to workers, and what each of them is making */
  private readonly ports = new Map<MessagePort, string[]>()

  /** A line to a new worker, over which it first gets all there is, and what the others are making. Its other end is for the worker; what is given back with it is to be called when that is gone. */
  connect(): { readonly port: MessagePort; readonly gone: () => void } {
    const { port1, port2 } = new MessageChannel()
    for (const result of this.kept.values()) if (this.bound.peek(result.key)) port1.postMessage(result)
    for (const making of this.ports.values()) for (const begun of making) port1.postMessage({ begun } satisfies SharedNews)
    port1.onmessage = ({ data }: MessageEvent<SharedNews>) => this.hear(data, port1)
    this.ports.set(port1, [])
    const gone = () => {
      const making = this.ports.get(port1) ?? []
      this.ports.delete(port1)
      port1.close()
      // nobody is to wait for it
      for (const ended of making) this.send({ ended }, port1)
    }
    return { port: port2, gone }
  }

  private send(news: SharedNews, from: MessagePort): void {
    for (const port of this.ports.keys()) if (port !== from) port.postMessage(news)
  }

  private hear(news: SharedNews, from: MessagePort): void {
    const making = this.ports.get(from)
    if (!making) return
    if ('begun' in news) making.push(news.begun)
    else if ('ended' in news) this.ports.set(from, without(making, news.ended))
    else return this.take(news, from)
    this.send(news, from)
  }

  private take(received: SharedResult, from: MessagePort): void {
    const result = this.memory.adopted(received)
    this.bound.put(result.key, result.outcome)
    this.kept.set(result.key, result)
    // what the bound has dropped is forgotten
    if (this.kept.size > 2 * this.bound.size + 16) for (const key of this.kept.keys()) if (!this.bound.peek(key)) this.kept.delete(key)
    this.send(result, from)
  }

  /** Bytes held. */
  get bytes(): number {
    return this.bound.bytes
  }
}

/** A list without the first of what is there several times. */
const without = (list: readonly string[], one: string): string[] => list.filter((_, i) => i !== list.indexOf(one))

/** The same result with its large arrays in memory that other threads see as well; as it is where that cannot be had. */
export function inSharedMemory(outcome: StepOutcome): StepOutcome {
  if (!outcome.ok || !canShare()) return outcome
  return { ...outcome, value: mapArrays(outcome.value, shared) as typeof outcome.value }
}

const canShare = (): boolean => typeof SharedArrayBuffer !== 'undefined' && (globalThis as { crossOriginIsolated?: boolean }).crossOriginIsolated !== false

type Numbers = Float64Array | Float32Array | Uint32Array | Int32Array | Uint8Array
type NumbersOf = new (buffer: SharedArrayBuffer, offset?: number, length?: number) => Numbers

function shared(array: Numbers): Numbers {
  if (array.buffer instanceof SharedArrayBuffer) return array
  const copy = new (array.constructor as NumbersOf)(new SharedArrayBuffer(array.byteLength))
  copy.set(array as never)
  return copy
}

/** A copy of plain data in which every typed array has become what is given for it. */
function mapArrays(value: unknown, change: (array: Numbers) => Numbers): unknown {
  if (ArrayBuffer.isView(value)) return change(value as Numbers)
  if (Array.isArray(value)) return value.some((item) => typeof item === 'object') ? value.map((item) => mapArrays(item, change)) : value
  if (value === null || typeof value !== 'object') return value
  return Object.fromEntries(Object.entries(value).map(([name, part]) => [name, mapArrays(part, change)]))
}
