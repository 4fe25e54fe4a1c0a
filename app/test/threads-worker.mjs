import { parentPort, threadId } from 'node:worker_threads'
import { expose } from 'comlink'
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs'

const api = {
  async run(task, values) {
    if (task === 'throws') throw new RangeError('not this')
    if (task === 'breaks') process.exit(3)
    if (task === 'endless') {
      parentPort.postMessage('began')
      for (;;);
    }
    await new Promise((resolve) => setTimeout(resolve, 20))
    return { values: values.map((v) => 2 * v), thread: threadId }
  },
}

expose(api, nodeEndpoint(parentPort))
parentPort.postMessage('ready')
