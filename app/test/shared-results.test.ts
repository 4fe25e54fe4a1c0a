import { evaluateRoute, resultKey } from '@kelvar/core/evaluate/route'
import { Memo } from '@kelvar/core/cache/memo'
import type { StepOutcome } from '@kelvar/core/steps/step'
import type { Solid } from '@kelvar/core/solid/solid'
import { afterEach, describe, expect, it } from 'vitest'
import { assets, wordRoute } from '../../core/test/helpers'
import { inSharedMemory, MadeElsewhere, SharedMemory, type SharedNews, SharedResults } from '@/workers/shared-results'

/** A worker at the end of its line. */
class Maker {
  readonly memo = new Memo()
  readonly memory = new SharedMemory()
  readonly elsewhere: MadeElsewhere
  readonly gone: () => void
  readonly port: MessagePort

  constructor(results: SharedResults) {
    const { port, gone } = results.connect()
    this.port = port
    this.gone = gone
    this.elsewhere = new MadeElsewhere((news) => port.postMessage(news))
    port.onmessage = ({ data }: MessageEvent<SharedNews>) => {
      if ('key' in data) this.memo.put(resultKey(data.key), this.memory.adopted(data).outcome)
      else this.elsewhere.hear(data)
    }
    makers.push(this)
  }

  share(key: string, outcome: StepOutcome): StepOutcome {
    const shared = inSharedMemory(outcome)
    this.port.postMessage(this.memory.packed(key, shared))
    return shared
  }

  evaluate(text: string) {
    const route = [...wordRoute(text, 'archivo-bold'), { id: 'even', kind: 'even-remesh', on: true, params: { edge: 1.5 } }]
    return evaluateRoute(route, { assets, memo: this.memo, elsewhere: this.elsewhere, share: (key, outcome) => this.share(key, outcome) })
  }
}

let makers: Maker[] = []
afterEach(() => {
  for (const maker of makers) {
    maker.gone()
    maker.port.close()
  }
  makers = []
})

/** Until all messages on their way have come. */
const settle = () => new Promise((resolve) => setTimeout(resolve, 30))
/** Whether a promise is settled by now. */
const isOver = async (promise: Promise<void> | undefined) => {
  let over = false
  void promise?.then(() => (over = true))
  await settle()
  return over
}

describe('what one worker is making', () => {
  it('is known to the others until it is over, also to one that comes later, and is over when the worker is gone', async () => {
    const results = new SharedResults()
    const [one, other] = [new Maker(results), new Maker(results)]
    const over = one.elsewhere.begin('a solid')
    await settle()
    const later = new Maker(results)
    await settle()
    expect(one.elsewhere.awaited('a solid')).toBeUndefined()
    const [here, there] = [other.elsewhere.awaited('a solid'), later.elsewhere.awaited('a solid')]
    expect(here).toBeDefined()
    expect(there).toBeDefined()
    expect(await isOver(here)).toBe(false)
    over()
    expect((await isOver(here)) && (await isOver(there))).toBe(true)
    expect(other.elsewhere.awaited('a solid')).toBeUndefined()

    // one that is to tell how far it is makes it itself
    one.elsewhere.begin('another')
    await settle()
    other.elsewhere.waits = false
    expect(other.elsewhere.awaited('another')).toBeUndefined()
    other.elsewhere.waits = true
    later.elsewhere.begin('another')
    await settle()
    const twice = other.elsewhere.awaited('another')
    one.gone()
    // the other one goes on with it
    expect(await isOver(twice)).toBe(false)
    later.gone()
    expect(await isOver(twice)).toBe(true)
    // nobody hears of one that is gone
    one.elsewhere.begin('a third')
    await settle()
    expect(other.elsewhere.awaited('a third')).toBeUndefined()
  })

  it('is there for the others when it is over: they take it and make nothing', async () => {
    const results = new SharedResults()
    const [one, other] = [new Maker(results), new Maker(results)]
    const first = one.evaluate('Quay')
    await settle()
    const [made, taken] = await Promise.all([first, other.evaluate('Quay')])
    expect(taken.steps.map(({ reused }) => reused)).toEqual([true, true, true])
    const [a, b] = [made.value as Solid, taken.value as Solid]
    expect(b.positions).toEqual(a.positions)
    expect(b.indices).toEqual(a.indices)
    // one memory for both
    expect(b.positions.buffer).toBeInstanceOf(SharedArrayBuffer)
  })
})
