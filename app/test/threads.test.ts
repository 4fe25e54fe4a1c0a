import { Worker } from 'node:worker_threads'
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs'
import { afterEach, describe, expect, it } from 'vitest'
import { shareOut, type Task } from '@kelvar/core/parallel/share-out'
import type { WorkerHandle } from '@/workers/supervisor'
import { WorkerThreads } from '@/workers/threads'

let opened: Worker[] = []

/** A thread that does other things than those of the steps: see threads-worker.mjs. */
function open(): WorkerHandle {
  const worker = new Worker(new URL('./threads-worker.mjs', import.meta.url))
  opened.push(worker)
  worker.setMaxListeners(50)
  return {
    endpoint: nodeEndpoint(worker as never),
    ready: new Promise((resolve) => worker.on('message', (message: unknown) => message === 'ready' && resolve())),
    end: () => void worker.terminate(),
    onDeath: (call) => {
      worker.on('error', call)
      worker.on('exit', (code) => call(new Error(`it ended with ${code}`)))
    },
  }
}

/** Every worker that was opened, once it is over. */
const ends = () => Promise.all(opened.map((worker) => new Promise((resolve) => worker.once('exit', resolve))))

afterEach(() => {
  for (const worker of opened) void worker.terminate()
  opened = []
})

const breathe = () => new Promise<void>((resolve) => setImmediate(resolve))
const doubled: Task<Float64Array, { readonly values: Float64Array; readonly thread: number }> = {
  name: 'doubled',
  run: async (values) => {
    await new Promise((resolve) => setTimeout(resolve, 20))
    return { values: values.map((v) => 2 * v), thread: 0 }
  },
}
const options = { breathe, takes: () => 10_000 }

describe('threads beside a worker', () => {
  it('do what is shared out, are kept for what comes next, and leave what they were given as it was', async () => {
    const threads = new WorkerThreads(2, open)
    const list = Array.from({ length: 12 }, (_, i) => Float64Array.of(i, i + 0.5))
    for (let round = 0; round < 2; round++) {
      const results = await shareOut(doubled, list, { ...options, threads })
      expect(results.map(({ values }) => [...values])).toEqual(list.map(([a, b]) => [2 * a, 2 * b]))
      if (round > 0) expect(new Set(results.map(({ thread }) => thread)).size).toBe(3)
    }
    expect(list[3]).toEqual(Float64Array.of(3, 3.5))
    expect(opened).toHaveLength(2)
  })

  it('may break down or throw: what they had is done here', async () => {
    const threads = new WorkerThreads(1, open)
    for (const name of ['breaks', 'throws']) {
      const task = { ...doubled, name }
      const results = await shareOut(task, [Float64Array.of(1), Float64Array.of(2), Float64Array.of(3)], { ...options, threads })
      expect(results.map(({ values }) => values[0])).toEqual([2, 4, 6])
    }
    // another one comes when it is wanted again
    const after = await shareOut(
      doubled,
      [1, 2, 3, 4, 5, 6, 7, 8].map((n) => Float64Array.of(n)),
      { ...options, threads },
    )
    expect(after.map(({ values }) => values[0])).toEqual([2, 4, 6, 8, 10, 12, 14, 16])
    expect(opened.length).toBeGreaterThan(1)
  })

  it('are ended in the middle of what they do when it is stopped', async () => {
    const threads = new WorkerThreads(1, open)
    const stop = new AbortController()
    const running = shareOut({ ...doubled, name: 'endless' }, [Float64Array.of(1), Float64Array.of(2)], { ...options, threads, signal: stop.signal })
    running.catch(() => {})
    while (opened.length === 0) await breathe()
    await new Promise((resolve) => opened[0].on('message', (message: unknown) => message === 'began' && resolve(undefined)))
    const over = ends()
    const from = performance.now()
    stop.abort(new Error('enough'))
    await expect(running).rejects.toThrow('enough')
    expect(performance.now() - from).toBeLessThan(1000)
    await over
  })
})
