import { newProject } from '@kelvar/core/project/new-project'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { addPiece } from '@/state/actions/pieces'
import { setParam } from '@/state/actions/steps'
import { keepMaking, stopMaking } from '@/state/making'
import { createWorkbenchStore, type WorkbenchStore } from '@/state/store'
import type { RouteNews, Work } from '@/workers/messages'
import { WorkerDeaf } from '@/workers/supervisor'
import type { ViewMesh } from '@/workers/view-mesh'

/** A making that was asked for, to be answered by the test. */
interface Asked {
  readonly work: Work
  readonly known: { key: string; shape: string } | undefined
  readonly signal: AbortSignal
  tell(step: string, done: number, of?: string, expected?: string): void
  answer(news: Partial<RouteNews>): void
  fail(error: Error): void
}

const asked: Asked[] = []
const looked: string[] = []
/** in which worker */
const lookedIn: string[] = []
const renew = vi.hoisted(() => vi.fn())
const fakes = vi.hoisted(() => ({ view: undefined as unknown, desk: undefined as unknown, afresh: undefined as unknown }))

vi.mock('@/workers/maker', () => ({
  viewMaker: { ask: (...of: unknown[]) => (fakes.view as (...of: unknown[]) => unknown)(...of), renew },
  desk: { ask: (...of: unknown[]) => (fakes.desk as (...of: unknown[]) => unknown)(...of) },
  proxy: <T>(of: T) => of,
  onAfresh: (listener: unknown) => {
    fakes.afresh = listener
    return () => {}
  },
}))
const first = vi.hoisted(() => ({ coming: false, look: undefined as unknown, freed: vi.fn(), draw: () => {}, drawn: Promise.resolve() }))
vi.mock('@/state/last-look', () => ({ lastLook: async () => first.look, rememberLook: async () => {} }))
vi.mock('@/state/first-frame', () => ({
  lookIsComing: () => first.coming,
  freeMachine: () => first.freed(),
  get firstFrame() {
    return first.drawn
  },
}))

const paint = (colour: string) => ({ colour, roughness: 0.5, metalness: 0 })
const surfaces = (colour: string) => [{ group: 'face' as const, name: 'face', material: paint(colour), start: 0, count: 3 }]
const mesh = (shape: string, colour = '#000000'): ViewMesh => ({
  shape,
  positions: new Float32Array(9),
  normals: new Int16Array(9),
  indices: Uint32Array.from([0, 1, 2]),
  letters: new Int32Array(1),
  surfaces: surfaces(colour),
  box: [0, 0, 0, 1, 1, 1],
})

const looks = (worker: string) => ({
  check: async () => {
    looked.push('check')
    lookedIn.push(worker)
    return { sound: true }
  },
  forPicking: async () => {
    looked.push('picking')
    lookedIn.push(worker)
    return { key: store.getState().news?.key, tree: {}, lighter: mesh('light') }
  },
})

beforeEach(() => {
  vi.useFakeTimers()
  first.coming = false
  first.freed.mockClear()
  first.look = undefined
  first.drawn = new Promise((resolve) => {
    first.draw = resolve
  })
  asked.length = 0
  looked.length = 0
  lookedIn.length = 0
  renew.mockClear()
  fakes.view = (run: (api: object, job: number) => Promise<unknown>, signal: AbortSignal) =>
    // as the supervisor does: whoever stops is free at once
    Promise.race([
      run(
        {
          make: (_: number, work: Work, __: unknown, known: Asked['known'], tell: Asked['tell']) =>
            new Promise((resolve, reject) =>
              asked.push({ work, known, signal, tell, answer: (news) => resolve({ steps: [], complete: true, ms: 1, ...news }), fail: reject }),
            ),
          ...looks('view'),
        },
        1,
      ),
      new Promise((_, reject) => signal.addEventListener('abort', () => reject(signal.reason))),
    ])
  fakes.desk = (run: (api: object, job: number) => Promise<unknown>) => run(looks('desk'), 1)
})

let store: WorkbenchStore
let end: () => void

function begin() {
  store = createWorkbenchStore('id', newProject(), 1)
  end = keepMaking(store)
}

afterEach(() => {
  end()
  vi.useRealTimers()
})

const settle = (ms = 0) => vi.advanceTimersByTimeAsync(ms)
const type = (text: string) => setParam(store, 'lettering-1', 'text', text, 'Lettering: words')

describe('keepMaking', () => {
  it('makes the piece, and a moment later what is to be known of it', async () => {
    begin()
    expect(store.getState().making).toBe(true)
    asked[0].answer({ key: 'a', mesh: mesh('one') })
    await settle()
    expect(store.getState()).toMatchObject({ making: false, meshKey: 'a', mesh: { shape: 'one' } })
    expect(looked).toEqual([])
    await settle(400)
    expect(looked).toEqual(['check', 'picking'])
    expect(store.getState()).toMatchObject({ report: { key: 'a' }, picking: { key: 'a' } })
  })

  it('keeps what a step is expected to come to for as long as that step is made, and no longer', () => {
    begin()
    const progress = () => store.getState().progress
    asked[0].tell('extrude-1', 0.02, undefined, 'about 2,000 triangles')
    expect(progress()).toEqual({ step: 'extrude-1', done: 0.02, of: undefined, expected: 'about 2,000 triangles' })
    asked[0].tell('extrude-1', 0.6)
    expect(progress()).toMatchObject({ done: 0.6, expected: 'about 2,000 triangles' })
    asked[0].tell('dress-1', 0)
    expect(progress()?.expected).toBeUndefined()
    asked[0].tell('extrude-1', 0.7, 'Plate')
    expect(progress()).toMatchObject({ of: 'Plate', expected: undefined })
    // of what is not asked for any more nothing is told
    type('Lantern')
    asked[0].tell('extrude-1', 0.9, undefined, 'about 9,000 triangles')
    expect(progress()?.expected).toBeUndefined()
    asked[1].tell('extrude-1', 0.1, undefined, 'about 5,000 triangles')
    expect(progress()?.expected).toBe('about 5,000 triangles')
  })

  it('knows how heavy a piece is from its steps, and before they are made from how it looked last', async () => {
    const { isLight, currentWork } = await import('@/state/work')
    const work = () => currentWork(store.getState()) as Work
    begin()
    expect(isLight(work())).toBe(false)
    const steps = (...triangles: number[]) => triangles.map((n, i) => ({ id: `step-${i}`, triangles: n })) as unknown as RouteNews['steps']
    asked[0].answer({ key: 'a', mesh: mesh('one'), steps: steps(900, 12_000) })
    await settle()
    expect(isLight(work())).toBe(true)
    // one heavy step on the way is enough, whatever comes out of it
    type('Lantern')
    expect(isLight(work())).toBe(false)
    asked[1].answer({ key: 'b', mesh: mesh('two'), steps: steps(900, 12_001, 40) })
    await settle()
    expect(isLight(work())).toBe(false)
    end()
    first.coming = true
    first.look = { key: 'seen', mesh: mesh('seen') }
    begin()
    await settle()
    expect(store.getState().mesh?.shape).toBe('seen')
    expect(isLight(work())).toBe(true)
  })

  it('looks at what is light where it was made, and has something heavy looked at beside the next keystroke', async () => {
    begin()
    const steps = (triangles: number) => [{ step: 'extrude-1', triangles }] as unknown as RouteNews['steps']
    asked[0].answer({ key: 'a', mesh: mesh('one'), steps: steps(3000) })
    await settle(400)
    type('Lantern')
    asked[1].answer({ key: 'b', mesh: mesh('two'), steps: steps(400_000) })
    await settle(400)
    expect(lookedIn).toEqual(['view', 'view', 'desk', 'desk'])
  })

  it('gives up what something newer has overtaken, and never shows it', async () => {
    begin()
    type('T')
    type('Te')
    expect(asked.map(({ signal }) => signal.aborted)).toEqual([true, true, false])
    asked[0].tell('lettering-1', 0.9)
    asked[2].tell('extrude-1', 0.4)
    expect(store.getState().progress).toMatchObject({ step: 'extrude-1', done: 0.4 })
    asked[2].answer({ key: 'new', mesh: mesh('new') })
    asked[0].answer({ key: 'old', mesh: mesh('old') })
    asked[1].fail(new Error('too late to matter'))
    await settle()
    expect(store.getState()).toMatchObject({ meshKey: 'new', mesh: { shape: 'new' }, making: false, fault: undefined })
  })

  it('takes other materials for the mesh it has, with all that was found out of its shape', async () => {
    begin()
    const first = mesh('one', '#111111')
    asked[0].answer({ key: 'a', mesh: first })
    await settle(400)
    setParam(store, 'dress-1', 'face', paint('#ff0000'), 'Dress: face')
    expect(asked[1].known).toEqual({ key: 'a', shape: 'one' })
    asked[1].answer({ key: 'b', surfaces: surfaces('#ff0000') })
    await settle(400)
    const state = store.getState()
    expect(state.mesh?.positions).toBe(first.positions)
    expect(state.mesh?.surfaces[0].material.colour).toBe('#ff0000')
    expect(first.surfaces[0].material.colour).toBe('#111111')
    expect(state).toMatchObject({ meshKey: 'b', report: { key: 'b' }, picking: { key: 'b', lighter: { surfaces: [{ material: { colour: '#ff0000' } }] } } })
    // nothing of it is worked out again
    expect(looked).toEqual(['check', 'picking'])
  })

  it('keeps what is shown when it is the same, and when a step fails; has no solid where an outline is what there is', async () => {
    begin()
    asked[0].answer({ key: 'a', mesh: mesh('one') })
    await settle()
    type('T')
    asked[1].answer({ key: 'a' })
    await settle()
    expect(store.getState()).toMatchObject({ meshKey: 'a', mesh: { shape: 'one' } })
    type('')
    asked[2].answer({ complete: false })
    await settle()
    expect(store.getState()).toMatchObject({ meshKey: 'a', mesh: { shape: 'one' } })
    type('O')
    asked[3].answer({ key: 'outline' })
    await settle()
    expect(store.getState().mesh).toBeUndefined()
    expect(store.getState().meshKey).toBeUndefined()
  })

  it('ends at a person’s word with the last result in view, and goes on when asked or with the next change', async () => {
    begin()
    asked[0].answer({ key: 'a', mesh: mesh('one') })
    await settle()
    type('Tern')
    stopMaking(store)
    await settle()
    expect(asked[1].signal.aborted).toBe(true)
    expect(store.getState()).toMatchObject({ stopped: true, making: false, meshKey: 'a', fault: undefined })
    store.getState().goOn()
    expect(asked).toHaveLength(3)
    expect(asked[2].work).toEqual(asked[1].work)
    // what is recorded on the way is known to be this project's
    expect(asked[2].work.project).toBe('id')
    stopMaking(store)
    await settle()
    type('Tern Quay')
    expect(asked).toHaveLength(4)
    expect(store.getState().stopped).toBe(false)
  })

  it('says when the worker broke down, starts one afresh where its kernel did, and makes the next change all the same', async () => {
    const complain = vi.spyOn(console, 'error').mockImplementation(() => {})
    begin()
    asked[0].fail(new Error('gone'))
    await settle()
    expect(store.getState().fault).toContain('your changes are kept')
    type('T')
    asked[1].answer({ key: 'a', mesh: mesh('one'), kernelLost: true })
    await settle()
    expect(renew).toHaveBeenCalledOnce()
    expect(store.getState()).toMatchObject({ fault: undefined, meshKey: 'a' })
    ;(fakes.afresh as (why: string) => void)('broken')
    expect(store.getState().afresh).toBe(true)
    complain.mockRestore()
  })

  it('says at its step that something came to no end, shows what stood, and makes the next change', async () => {
    const complain = vi.spyOn(console, 'error').mockImplementation(() => {})
    begin()
    asked[0].answer({ key: 'a', mesh: mesh('one') })
    await settle()
    type('Tern')
    const { route } = asked[1].work
    asked[1].tell(route[1].id, 0)
    asked[1].fail(new WorkerDeaf(90))
    await settle()
    const { news, meshKey, making, fault } = store.getState()
    expect({ meshKey, making, fault }).toEqual({ meshKey: 'a', making: false, fault: undefined })
    expect(news?.complete).toBe(false)
    expect(news?.steps.map(({ state }) => state)).toEqual(['sound', 'failed', ...route.slice(2).map(() => 'waiting')])
    expect(news?.steps[1].issues[0]).toMatchObject({ code: 'no-end', message: expect.stringContaining('90 seconds') })
    type('Tern Quay')
    asked[2].answer({ key: 'b', mesh: mesh('two') })
    await settle()
    expect(store.getState()).toMatchObject({ meshKey: 'b', news: { complete: true } })
    complain.mockRestore()
  })

  it('makes another piece when that is taken in hand, and does nothing for changes that make nothing anew', async () => {
    begin()
    asked[0].answer({ key: 'a', mesh: mesh('one') })
    await settle()
    store.getState().unfold('extrude-1')
    store.getState().pick([0])
    store.getState().lookAtAll(true)
    expect(asked).toHaveLength(1)
    addPiece(store, 'block')
    expect(asked).toHaveLength(2)
    const [{ id }, second] = store.getState().document.pieces
    expect(asked[1].work.piece).toBe(second.id)
    asked[1].answer({ key: 'b', mesh: mesh('two') })
    await settle()
    expect(store.getState().meshPiece).toBe(second.id)
    store.getState().choosePiece(id)
    asked[2].answer({ key: 'a', mesh: mesh('one') })
    await settle()
    expect(store.getState()).toMatchObject({ meshPiece: id, meshKey: 'a' })
  })

  it('shows nothing any more after it has ended', async () => {
    begin()
    end()
    expect(asked[0].signal.aborted).toBe(true)
    asked[0].answer({ key: 'a', mesh: mesh('one') })
    await settle(500)
    expect(store.getState().mesh).toBeUndefined()
    type('more')
    expect(asked).toHaveLength(1)
  })

  it('leaves the machine to the first frame where there is a look to be drawn, and no longer than that', async () => {
    first.coming = true
    first.look = { key: 'a', mesh: mesh('one') }
    begin()
    await settle()
    expect(store.getState()).toMatchObject({ meshKey: 'a', making: false })
    await settle(1000)
    expect(asked).toHaveLength(0)
    expect(first.freed).not.toHaveBeenCalled()
    first.draw()
    await settle()
    expect(first.freed).toHaveBeenCalled()
    expect(asked).toHaveLength(1)
    // what is found to be the same is not sent again
    expect(asked[0].known).toEqual({ key: 'a', shape: 'one' })
    asked[0].answer({ key: 'a' })
    await settle()
    expect(store.getState()).toMatchObject({ meshKey: 'a', meshPiece: asked[0].work.piece, making: false })
  })

  it('lets go the workers that wait for the first look where none is coming', async () => {
    begin()
    expect(first.freed).toHaveBeenCalled()
    await settle()
    expect(asked).toHaveLength(1)
  })

  it('does not wait for a frame that never comes, nor for a look that is not there', async () => {
    first.coming = true
    first.look = { key: 'a', mesh: mesh('one') }
    begin()
    await settle(1400)
    type('Te')
    expect(asked).toHaveLength(0)
    await settle(200)
    expect(asked.map(({ work }) => work.route[0].params.text)).toEqual(['Te'])
    end()
    first.look = undefined
    begin()
    await settle()
    expect(asked).toHaveLength(2)
    end()
    first.look = { key: 'a', mesh: mesh('one') }
    begin()
    await settle()
    end()
    first.draw()
    await settle(2000)
    expect(asked).toHaveLength(2)
  })
})
