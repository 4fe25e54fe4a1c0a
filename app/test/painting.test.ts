import { newProject } from '@kelvar/core/project/new-project'
import { readDabs } from '@kelvar/core/mask/painted-file'
import { describe, expect, it, vi } from 'vitest'
import { keepPainted, paintedEntry, setPainted } from '@/state/actions/painting'
import { insertStep, setParam } from '@/state/actions/steps'
import { setWords } from '@/state/actions/words'
import { localBytes } from '@/state/local-assets'
import { createWorkbenchStore } from '@/state/store'

// the browser's store, as the page sees it
const kept = vi.hoisted(() => new Map<string, unknown>())
vi.mock('idb-keyval', () => ({
  createStore: () => kept,
  get: async (key: string) => kept.get(key),
  set: async (key: string, value: unknown) => void kept.set(key, structuredClone(value)),
}))

const AT = { step: 'twist-1', entry: 0 }
const dab = (at: number, x = 0) => ({ at, place: [x, 0, 0] as [number, number, number], radius: 4, soft: 50, amount: 100 })

/** A project whose Twist goes by a painted mask. */
function painting() {
  const store = createWorkbenchStore('id', newProject(), 1)
  insertStep(store, 2, 'twist', 'Twist')
  setParam(store, 'twist-1', 'mask', { list: [{ by: 'painted' }] }, 'Mask')
  const painted = () => {
    const entry = paintedEntry(store, AT)
    if (!entry) throw new Error('nothing is painted')
    return entry
  }
  /** Paints a stroke on a text, as the view does, and ends it. */
  const stroke = async (of: string, gesture: string, ...dabs: ReturnType<typeof dab>[]) => {
    for (const one of dabs) setPainted(store, AT, { ...painted(), of, list: [...painted().list, one] }, 'paint', gesture)
    await keepPainted(store, AT, 'paint', gesture)
  }
  const inFile = async () => {
    const { file } = painted()
    const bytes = file && (await localBytes(file.sha256))
    return bytes ? readDabs(bytes) : []
  }
  const assets = () =>
    store
      .getState()
      .document.assets.filter(({ type }) => type === 'paint')
      .map(({ sha256 }) => sha256)
  return { store, painted, stroke, inFile, assets }
}

describe('painting a mask', () => {
  it('puts each stroke into the file of all of them, as one step of undo', async () => {
    const { store, painted, stroke, inFile, assets } = painting()
    await stroke('Hello', 'drag:paint/1', dab(2, 1), dab(3, 2))
    expect(painted()).toMatchObject({ of: 'Hello', list: [], letters: [{ at: 2 }, { at: 3 }], file: { count: 2 } })
    const first = painted().file?.sha256
    expect(assets()).toEqual([first])
    await stroke('Hello', 'drag:paint/2', dab(3, 3), dab(0, 4), dab(-1, 5))
    expect((await inFile()).map(({ at, place }) => [at, place[0]])).toEqual([
      [0, 1],
      [1, 2],
      [1, 3],
      [2, 4],
      [-1, 5],
    ])
    // the file before is not carried any more, and comes back with undo
    expect(assets()).toEqual([painted().file?.sha256])
    store.getState().undo()
    expect(painted().file?.sha256).toBe(first)
    expect(assets()).toEqual([first])
    store.getState().undo()
    expect(painted()).toMatchObject({ list: [] })
    expect(painted().file).toBe(undefined)
    expect(assets()).toEqual([])
    store.getState().redo(2)
    expect((await inFile()).length).toBe(5)
  })

  it('leaves a stroke in the document where something else is changed meanwhile, and takes it with the next', async () => {
    const { store, painted, stroke, inFile } = painting()
    setPainted(store, AT, { ...painted(), of: 'Hello', list: [dab(1)] }, 'paint', 'drag:paint/1')
    const keeping = keepPainted(store, AT, 'paint', 'drag:paint/1')
    store.getState().undo()
    await keeping
    // what was undone can be done again
    expect(painted().list).toEqual([])
    expect(store.getState().future.length).toBe(1)
    store.getState().redo()
    expect(painted().list.length).toBe(1)
    await stroke('Hello', 'drag:paint/2', dab(2))
    expect(painted().list).toEqual([])
    expect((await inFile()).length).toBe(2)
  })

  it('letters keep what is painted on them when words are changed, by where the caret is', async () => {
    const { store, painted, stroke } = painting()
    setWords(store, 'lettering-1', 'Hello', undefined)
    // the second l
    await stroke('Hello', 'drag:paint/1', dab(3))
    const { file } = painted()
    setWords(store, 'lettering-1', 'Helllo', 3)
    expect(painted()).toMatchObject({ of: 'Helllo', letters: [{ at: 4 }], file })
    // its letter is gone: the text it was painted in is kept, so that it finds it again
    setWords(store, 'lettering-1', 'He', 2)
    expect(painted()).toMatchObject({ of: 'Helllo', letters: [{ at: 4 }], file })
  })
})
