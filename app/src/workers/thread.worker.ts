import { tasksInTurn } from '@kelvar/core/steps/tasks'
import { expose, transfer } from 'comlink'

/** Does tasks for a maker, one after another. */
export interface ThreadApi {
  run(task: string, data: unknown): Promise<unknown>
}

const inTurn = tasksInTurn()

const api: ThreadApi = {
  async run(task, data) {
    const { value, made } = await inTurn(task, data)
    return transfer(value, made)
  },
}

expose(api)
postMessage('ready')
