// One thread beside the command line: TypeScript run as it stands, as the command line itself (see threads.ts).
import { parentPort } from 'node:worker_threads'
import { register } from 'tsx/esm/api'

register()
const { tasksInTurn } = await import('../src/steps/tasks.ts')
const inTurn = tasksInTurn()
parentPort.on('message', ({ id, task, data }) => {
  inTurn(task, data).then(
    ({ value, made }) => parentPort.postMessage({ id, value }, made),
    (error) => parentPort.postMessage({ id, failed: { error } }),
  )
})
