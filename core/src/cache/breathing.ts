/** How long work may go on before other work is let in, ms. */
const SLICE = 12

/**
 * For long work: call it between pieces. It lets other tasks in every now and then, and throws the signal's reason once it is given.
 */
export function breather(signal: AbortSignal | undefined): () => Promise<void> {
  let sliceEnd = performance.now() + SLICE
  return async () => {
    signal?.throwIfAborted()
    if (performance.now() < sliceEnd) return
    await nextTask()
    sliceEnd = performance.now() + SLICE
    signal?.throwIfAborted()
  }
}

interface Tasks {
  readonly setImmediate?: (work: () => void) => unknown
}

let channel: InstanceType<typeof MessageChannel> | undefined
const waiting: (() => void)[] = []

/**
 * Lets other tasks in: messages, timers, input. Without the 4 ms that browsers make nested timers wait, and not by scheduler.yield(), whose
 * continuations go before messages for as long as the work lasts: a worker would not hear that it is to stop.
 */
export function nextTask(): Promise<void> {
  const { setImmediate } = globalThis as Tasks
  if (setImmediate) return new Promise((resolve) => setImmediate(resolve))
  if (!channel) {
    channel = new MessageChannel()
    channel.port1.addEventListener('message', () => waiting.shift()?.())
    channel.port1.start()
  }
  return new Promise((resolve) => {
    waiting.push(resolve)
    channel?.port2.postMessage(null)
  })
}
