import type { WorkerHandle } from './supervisor'

/** A web worker for the supervisor. It must send "ready" once it listens. */
export function browserWorker(worker: Worker): WorkerHandle {
  const calls: ((reason: Error) => void)[] = []
  const died = (reason: string) => {
    for (const call of calls) call(new Error(reason))
  }
  const ready = new Promise<void>((resolve, reject) => {
    worker.addEventListener('message', function listen(event) {
      if (event.data !== 'ready') return
      worker.removeEventListener('message', listen)
      resolve()
    })
    calls.push(reject)
  })
  ready.catch(() => {})
  // for as long as it lives: what throws outside of a job would leave the page waiting
  worker.addEventListener('error', (event) => died(event.message || 'it did not start'))
  worker.addEventListener('messageerror', () => died('a message could not be read'))
  return { endpoint: worker, ready, end: () => worker.terminate(), onDeath: (call) => calls.push(call) }
}
