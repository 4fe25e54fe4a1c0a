import { measure } from '@kelvar/core/cache/measure'
import { runTask } from '@kelvar/core/steps/tasks'
import { expose, transfer } from 'comlink'

/** Does tasks for a maker, one after another. */
export interface ThreadApi {
  run(task: string, data: unknown): Promise<unknown>
}

let last: Promise<unknown> = Promise.resolve()

const api: ThreadApi = {
  run(task, data) {
    const result = last.catch(() => {}).then(() => runTask(task, data))
    last = result
    return result.then((value) => {
      const given = new Set(measure(data).buffers)
      // what came in may be in memory that is shared; what is new goes over without being copied
      const made = measure(value).buffers.filter(
        (buffer): buffer is ArrayBuffer => buffer instanceof ArrayBuffer && buffer.byteLength > 0 && !given.has(buffer),
      )
      return transfer(value, made)
    })
  },
}

expose(api)
postMessage('ready')
