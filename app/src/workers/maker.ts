import { proxy, transfer } from 'comlink'
import { lookIsComing, machineFree } from '@/state/first-frame'
import { browserWorker } from './browser-worker'
import type { MakerApi } from './messages'
import { SharedResults } from './shared-results'
import { Supervisor } from './supervisor'

const results = new SharedResults()
const listeners = new Set<(why: 'ended' | 'broken') => void>()

const looked = lookIsComing()

function supervised({ patience, waits }: { readonly patience?: number; readonly waits: boolean }): Supervisor<MakerApi> {
  return new Supervisor<MakerApi>(() => browserWorker(new Worker(new URL('./maker.worker.ts', import.meta.url), { type: 'module' })), {
    patience,
    // what fields of the page ask at once would take the machine from the first frame
    after: looked ? machineFree : undefined,
    begin: async (api, left) => {
      const { port, gone } = results.connect()
      void left.then(gone)
      await api.begin(transfer(port, [port]), waits)
    },
    onAfresh: (why) => {
      for (const listener of listeners) listener(why)
    },
  })
}

/** Makes what the view shows: always free for the next keystroke. */
export const viewMaker = supervised({ waits: false })

// it gets ready while the page itself is still being put together, unless there is something to be shown first
if (typeof window !== 'undefined' && !looked) viewMaker.warm()

/** For pictures, checks and files, which may take seconds. It has what the view's worker made, waits for what that is making, and need not make it again. */
export const desk = supervised({ patience: 4000, waits: true })

/** Answers what takes a moment: the desk where it is there already; no second worker is started for that. */
export const atHand = (): Supervisor<MakerApi> => (desk.started ? desk : viewMaker)

/** Hears when a worker was started afresh. Returns a function that ends it. */
export function onAfresh(listener: (why: 'ended' | 'broken') => void): () => void {
  listeners.add(listener)
  return () => {
    listeners.delete(listener)
  }
}

export { proxy }
