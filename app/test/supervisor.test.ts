import { Worker } from 'node:worker_threads'
import { loadManifold } from '@kelvar/core/kernel/manifold'
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs'
import { formGlyphs } from '../../core/test/glyphs'
import { openFace } from '../../core/test/helpers'
import { afterEach, describe, expect, it } from 'vitest'
import { SUPERSEDED, Supervisor, type Stoppable, WorkerDeaf, type WorkerHandle, WorkerLost } from '@/workers/supervisor'

interface Heavy extends Stoppable {
  boolean(job: number, segments: number): Promise<{ triangles: number; volume: number; thread: number }>
  corpus(job: number, glyphs: number): Promise<{ triangles: number; thread: number }>
  loop(job: number, ms: number): Promise<number>
  polite(job: number, ms: number): Promise<number>
  echo<T>(job: number, value: T): Promise<{ value: T; thread: number }>
  breakDown(job: number): Promise<never>
}

let opened: Worker[] = []
let began: (() => void) | undefined
/** Resolves when a job has begun in a worker. */
const beginning = () =>
  new Promise<void>((resolve) => {
    began = resolve
  })

function open(): WorkerHandle {
  const worker = new Worker(new URL('./heavy-worker.mjs', import.meta.url))
  opened.push(worker)
  worker.setMaxListeners(50)
  const ready = new Promise<void>((resolve) =>
    worker.on('message', (message: unknown) => {
      if (message === 'ready') resolve()
      if (typeof message === 'object' && message !== null && 'began' in message) began?.()
    }),
  )
  return {
    endpoint: nodeEndpoint(worker as never),
    ready,
    end: () => void worker.terminate(),
    onDeath: (call) => {
      worker.on('error', call)
      worker.on('exit', (code) => call(new Error(`it ended with ${code}`)))
    },
  }
}

const told: string[] = []
let supervisor: Supervisor<Heavy>
const start = () => {
  told.length = 0
  supervisor = new Supervisor<Heavy>(open, { onAfresh: (why) => told.push(why) })
}
afterEach(() => {
  supervisor.close()
  for (const worker of opened) void worker.terminate()
  opened = []
})

/** How long it takes until a promise is settled, ms. */
async function settled(promise: Promise<unknown>): Promise<number> {
  const from = performance.now()
  await promise.catch(() => {})
  return performance.now() - from
}

const stopping = async (run: (signal: AbortSignal) => Promise<unknown>): Promise<number> => {
  const controller = new AbortController()
  const begun = beginning()
  const running = run(controller.signal)
  running.catch(() => {})
  await begun
  controller.abort(new Error('stop'))
  const ms = await settled(running)
  await expect(running).rejects.toThrow('stop')
  return ms
}

describe('a worker that is busy', () => {
  it('does not keep anyone waiting who stops it in the middle of a boolean of two solids of 500,000 triangles, and the next result is right', async () => {
    start()
    await supervisor.ask((api, job) => api.echo(job, 'warm'))
    // 1000 segments make half a million triangles
    const ms = await stopping((signal) => supervisor.ask((api, job) => api.boolean(job, 1000), signal))
    console.log(`stopped in the middle of a boolean of two solids of 500,000 triangles after ${ms.toFixed(1)} ms`)
    expect(ms).toBeLessThan(100)
    const next = await supervisor.ask((api, job) => api.boolean(job, 64))
    // two balls of radius 10, 5.0049… apart: the ball without the lens (two caps of height 10 − d/2)
    const d = Math.hypot(5, 0.1, 0.2)
    const h = 10 - d / 2
    const exact = (4 / 3) * Math.PI * 1000 - (2 * Math.PI * h * h * (30 - h)) / 3
    expect(next.volume / exact).toBeCloseTo(1, 1)
    expect(told).toEqual(['ended'])
  })

  it('does not keep anyone waiting who stops a step of 28,000 glyphs in its middle, and the next result is right', async () => {
    start()
    await supervisor.ask((api, job) => api.corpus(job, 1))
    const ms = await stopping((signal) => supervisor.ask((api, job) => api.corpus(job, 28_000), signal))
    console.log(`stopped in the middle of 28,000 glyphs after ${ms.toFixed(1)} ms`)
    expect(ms).toBeLessThan(100)
    const { triangles, thread } = await supervisor.ask((api, job) => api.corpus(job, 60))
    expect(thread).not.toBe(0)
    await loadManifold()
    expect(triangles).toBe(formGlyphs(await openFace('archivo-bold'), 0, 60))
    expect(triangles).toBeGreaterThan(1000)
    expect(told).toEqual(['ended'])
  }, 60_000)

  it('asks again for what others wanted of it, and has a fresh worker ready beforehand when its work takes long', async () => {
    start()
    const { thread } = await supervisor.ask((api, job) => api.echo(job, 1))
    expect(opened).toHaveLength(1)
    await supervisor.ask((api, job) => api.polite(job, 1500))
    expect(opened).toHaveLength(2)
    const begun = beginning()
    const stop = new AbortController()
    const endless = supervisor.ask((api, job) => api.loop(job, 20_000), stop.signal)
    endless.catch(() => {})
    await begun
    const waiting = supervisor.ask((api, job) => api.echo(job, { also: [1, 2] }))
    stop.abort(new Error('enough'))
    await expect(endless).rejects.toThrow('enough')
    const answer = await waiting
    expect(answer.value).toEqual({ also: [1, 2] })
    expect(answer.thread).not.toBe(thread)
    // the first, its spare, and perhaps the next spare
    expect(opened.length).toBeLessThanOrEqual(3)
  })

  it('has no second one started for its first job, which also compiles kernels, unless that takes long even so', async () => {
    start()
    expect(supervisor.started).toBe(false)
    await supervisor.ask((api, job) => api.polite(job, 1400))
    expect(supervisor.started).toBe(true)
    expect(opened).toHaveLength(1)
    // it is practised now: the same takes long
    await supervisor.ask((api, job) => api.polite(job, 1400))
    expect(opened).toHaveLength(2)
    supervisor.close()
    expect(supervisor.started).toBe(false)
    start()
    opened = opened.slice(2)
    await supervisor.ask((api, job) => api.polite(job, 3200))
    expect(opened).toHaveLength(2)
  })

  it('that comes to no end is ended by itself, while one that works long and hears is let be', async () => {
    told.length = 0
    supervisor = new Supervisor<Heavy>(open, { onAfresh: (why) => told.push(why), deafness: 900 })
    await expect(supervisor.ask((api, job) => api.polite(job, 3000))).resolves.toBeGreaterThan(0)
    expect(told).toEqual([])
    const begun = beginning()
    const endless = supervisor.ask((api, job) => api.loop(job, 60_000))
    const beside = supervisor.ask((api, job) => api.echo(job, 1))
    await begun
    const from = performance.now()
    await expect(endless).rejects.toThrow(WorkerDeaf)
    await expect(beside).rejects.toThrow('heard nothing for 1 seconds')
    expect(performance.now() - from).toBeLessThan(5000)
    expect(told).toEqual(['ended'])
    expect((await supervisor.ask((api, job) => api.echo(job, 'on'))).value).toBe('on')
  }, 30_000)

  it('starts none before the page lets it, and hears of Stop until then', async () => {
    let free: () => void = () => {}
    const after = new Promise<void>((resolve) => {
      free = resolve
    })
    supervisor = new Supervisor<Heavy>(open, { after })
    const controller = new AbortController()
    const stopped = supervisor.ask((api, job) => api.echo(job, 1), controller.signal)
    const kept = supervisor.ask((api, job) => api.echo(job, 2))
    controller.abort(SUPERSEDED)
    await expect(stopped).rejects.toBe(SUPERSEDED)
    expect(opened).toHaveLength(0)
    free()
    expect((await kept).value).toBe(2)
    expect(opened).toHaveLength(1)
  })

  it('keeps a worker that stops by itself in time', async () => {
    start()
    const { thread } = await supervisor.ask((api, job) => api.echo(job, 1))
    const ms = await stopping((signal) => supervisor.ask((api, job) => api.polite(job, 5000), signal))
    expect(ms).toBeLessThan(100)
    await new Promise((resolve) => setTimeout(resolve, 120))
    expect((await supervisor.ask((api, job) => api.echo(job, 2))).thread).toBe(thread)
    expect(told).toEqual([])
  })

  it('keeps a worker that is nearly done with what is not wanted any more, but not one that is not', async () => {
    start()
    const { thread } = await supervisor.ask((api, job) => api.echo(job, 1))
    for (const [ms, kept] of [
      [300, true],
      [20_000, false],
    ] as const) {
      const superseded = new AbortController()
      const begun = beginning()
      const first = supervisor.ask((api, job) => api.loop(job, ms), superseded.signal)
      first.catch(() => {})
      await begun
      const from = performance.now()
      superseded.abort(SUPERSEDED)
      const next = await supervisor.ask((api, job) => api.echo(job, 2))
      expect(performance.now() - from).toBeLessThan(3000)
      expect(next.thread === thread).toBe(kept)
      await expect(first).rejects.toBe(SUPERSEDED)
    }
    expect(told).toEqual(['ended'])
  })

  it('that breaks down leaves nobody waiting, and another one does what is asked next', async () => {
    start()
    await expect(supervisor.ask((api, job) => api.breakDown(job))).rejects.toBeInstanceOf(WorkerLost)
    expect((await supervisor.ask((api, job) => api.echo(job, 'on'))).value).toBe('on')
    expect(told).toEqual(['broken'])
  })

  it('answers many at once, each with its own, while one of them is stopped', async () => {
    start()
    const stop = new AbortController()
    const begun = beginning()
    const stopped = supervisor.ask((api, job) => api.loop(job, 10_000), stop.signal)
    stopped.catch(() => {})
    const others = Array.from({ length: 20 }, (_, i) => supervisor.ask((api, job) => api.echo(job, i)))
    await begun
    stop.abort(new Error('no'))
    expect((await Promise.all(others)).map(({ value }) => value)).toEqual(Array.from({ length: 20 }, (_, i) => i))
  })
})
