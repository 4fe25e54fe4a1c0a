import { newProject } from '@kelvar/core/project/new-project'
import type { ProjectDocument } from '@kelvar/core/document/schema'
import { projectDocument } from '@kelvar/core/document/schema'
import { stepKind } from '@kelvar/core/steps/registry'
import fc from 'fast-check'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { createWorkbenchStore, type WorkbenchStore } from '@/state/store'
import { layUnder } from '@/state/actions/board'
import { addInserts } from '@/state/actions/inserts'
import { addPiece, removePiece, renamePiece, setHidden, setPlace } from '@/state/actions/pieces'
import { changeStep, insertStep, placeOf, setParam, setParams } from '@/state/actions/steps'
import { currentPiece } from '@/state/work'
import { setAsset, setFace } from '@/state/actions/files'
import { setWords } from '@/state/actions/words'

const open = (document: ProjectDocument = newProject()) => createWorkbenchStore('id', document, 1)
const routeOf = (store: ReturnType<typeof open>) => currentPiece(store.getState())?.route ?? []

beforeEach(() => {
  vi.useFakeTimers()
})
afterEach(() => {
  vi.useRealTimers()
})

describe('the workbench store', () => {
  it('opens with the words of the first piece in hand', () => {
    const state = open().getState()
    expect(state).toMatchObject({ pieceId: 'words-1', openStep: 'lettering-1', saving: 'kept' })
  })

  it('takes quick changes of one value as one step of undo, slow or different ones apart', () => {
    const store = open()
    for (const text of ['H', 'He', 'Hel']) {
      setParam(store, 'lettering-1', 'text', text, 'Lettering: words')
      vi.advanceTimersByTime(200)
    }
    expect(store.getState().past.length).toBe(1)
    setParam(store, 'lettering-1', 'size', 50, 'Lettering: cap height')
    expect(store.getState().past.length).toBe(2)
    vi.advanceTimersByTime(2000)
    setParam(store, 'lettering-1', 'size', 60, 'Lettering: cap height')
    expect(store.getState().past.length).toBe(3)
    store.getState().undo()
    store.getState().undo()
    store.getState().undo()
    expect(store.getState().document).toEqual(newProject())
    expect(store.getState().future.map((c) => c.label)).toEqual(['Lettering: cap height', 'Lettering: cap height', 'Lettering: words'])
  })

  it('never touches a document it has handed out', () => {
    const store = open()
    const before = store.getState().document
    const copy = structuredClone(before)
    setParam(store, 'extrude-1', 'depth', 33, 'Extrude: depth')
    changeStep(store, 'dress-1', 'remove', 'Dress')
    expect(before).toEqual(copy)
  })

  it('forgets what was undone when something new is done', () => {
    const store = open()
    changeStep(store, 'dress-1', 'switch', 'Dress')
    store.getState().undo()
    expect(store.getState().future.length).toBe(1)
    changeStep(store, 'dress-1', 'remove', 'Dress')
    expect(store.getState().future).toEqual([])
  })

  it('keeps at least 200 steps of undo, and an end to them', () => {
    const store = open()
    for (let i = 0; i < 700; i++) {
      setParam(store, 'extrude-1', 'depth', i + 1, 'Extrude: depth')
      vi.advanceTimersByTime(1000)
    }
    const { past } = store.getState()
    expect(past.length).toBeGreaterThanOrEqual(200)
    expect(past.length).toBeLessThanOrEqual(500)
  })

  it('inserts, copies and moves steps under ids of their own', () => {
    const store = open()
    insertStep(store, 3, 'dress', 'Dress')
    changeStep(store, 'lettering-1', 'copy', 'Lettering')
    expect(routeOf(store).map((s) => s.id)).toEqual(['lettering-1', 'lettering-2', 'extrude-1', 'dress-1', 'dress-2'])
    expect(routeOf(store)[1].params).toEqual(routeOf(store)[0].params)
    changeStep(store, 'dress-2', 'up', 'Dress')
    changeStep(store, 'lettering-1', 'up', 'Lettering')
    expect(routeOf(store).map((s) => s.id)).toEqual(['lettering-1', 'lettering-2', 'extrude-1', 'dress-2', 'dress-1'])
  })

  it('chooses another piece when the one in hand goes, and takes an empty project calmly', () => {
    const store = open()
    addPiece(store)
    const { pieceId } = store.getState()
    expect(pieceId).not.toBe('words-1')
    removePiece(store, pieceId)
    expect(store.getState().pieceId).toBe('words-1')
    removePiece(store, 'words-1')
    expect(currentPiece(store.getState())).toBeUndefined()
    store.getState().undo()
    expect(currentPiece(store.getState())?.id).toBe('words-1')
  })

  it('goes back to the very start and forward to the very end of any history, and is valid throughout', () => {
    const action = fc.oneof(
      fc.record({ do: fc.constant('set' as const), step: fc.constantFrom('lettering-1', 'extrude-1', 'dress-1'), value: fc.jsonValue() }),
      fc.record({ do: fc.constantFrom('switch' as const, 'up' as const, 'down' as const, 'copy' as const, 'remove' as const), index: fc.nat(6) }),
      fc.record({ do: fc.constantFrom('insert' as const), index: fc.nat(6), kind: fc.constantFrom('lettering', 'extrude', 'dress') }),
      fc.record({ do: fc.constantFrom('piece' as const, 'choose' as const, 'drop' as const), index: fc.nat(4) }),
    )
    fc.assert(
      fc.property(fc.array(action, { maxLength: 40 }), (actions) => {
        const store = open()
        const start = store.getState().document
        for (const a of actions) {
          vi.advanceTimersByTime(1000)
          const { pieces } = store.getState().document
          const piece = 'index' in a ? pieces[a.index % Math.max(1, pieces.length)] : undefined
          const step = 'index' in a ? routeOf(store)[a.index] : undefined
          if (a.do === 'set') setParam(store, a.step, 'note', a.value, 'Note')
          else if (a.do === 'insert') insertStep(store, Math.min(a.index, routeOf(store).length), a.kind, a.kind)
          else if (a.do === 'piece') addPiece(store)
          else if (a.do === 'choose') piece && store.getState().choosePiece(piece.id)
          else if (a.do === 'drop') piece && removePiece(store, piece.id)
          else if (step) changeStep(store, step.id, a.do, step.kind)
          expect(projectDocument.safeParse(store.getState().document).success).toBe(true)
          const ids = routeOf(store).map((s) => s.id)
          expect(new Set(ids).size).toBe(ids.length)
        }
        const end = store.getState().document
        const steps = store.getState().past.length
        for (let i = 0; i < steps; i++) store.getState().undo()
        expect(store.getState().document).toBe(start)
        for (let i = 0; i < steps; i++) store.getState().redo()
        expect(store.getState().document).toBe(end)
      }),
      { numRuns: 100 },
    )
  })
})

describe('inserts for a pocket', () => {
  const layers = [
    { id: 'a', name: 'Red', colour: '#aa2211' },
    { id: 'b', name: 'Blue', colour: '#2233aa' },
    { id: 'c', name: 'Red too', colour: '#aa2211' },
    { id: 'd', name: 'Plain' },
  ]
  /** as the worker's answer does */
  const tell = (store: WorkbenchStore, news: unknown) => (store as unknown as { setState(part: object): void }).setState({ news })
  /** A block with a pocket for the words, turned upright about z and moved. */
  const withPocket = () => {
    const store = open()
    addPiece(store, 'block')
    const body = currentPiece(store.getState())
    if (!body) throw new Error('no piece')
    setPlace(store, body.id, { position: [100, 0, 0], turn: [0, 0, 90], size: 2 }, 'moved')
    insertStep(store, 1, 'inlay', 'Inlay')
    const step = currentPiece(store.getState())?.route.find(({ kind }) => kind === 'inlay')
    if (!step) throw new Error('no step')
    setParams(store, step.id, { words: { piece: 'words-1' }, clearance: 0.3 }, 'words')
    const news = { complete: true, steps: [{ id: step.id, state: 'done', issues: [], ms: 0, marks: { seat: [5, 3, 7], layers } }] }
    tell(store, news)
    return { store, step: step.id, body: body.id, news, before: store.getState().document.pieces.length }
  }

  it('stand where they fit in, one of all or one of each colour, and are one edit', () => {
    const { store, step, body, before, news } = withPocket()
    addInserts(store, step, 'colours')
    const made = store.getState().document.pieces.slice(before)
    expect(made.map(({ route }) => route[0].params.layers)).toEqual([['a', 'c'], ['b'], ['d']])
    expect(new Set(store.getState().document.pieces.map(({ id }) => id)).size).toBe(before + 3)
    for (const { place, route } of made) {
      // a quarter turn to the left and twice the size: (5, 3) is at (−6, 10)
      expect(place?.position).toEqual([94, 10, 14])
      expect(place).toMatchObject({ turn: [0, 0, 0], size: 1 })
      expect(route[0].params).toMatchObject({ of: { piece: 'words-1' }, gap: 0.3 })
      expect(route[1]).toMatchObject({ kind: 'insert', params: { pocket: { piece: body } } })
    }
    expect(currentPiece(store.getState())?.id).toBe(made[0].id)
    expect(projectDocument.safeParse(store.getState().document).success).toBe(true)
    store.getState().undo()
    expect(store.getState().document.pieces).toHaveLength(before)
    store.getState().choosePiece(body)
    tell(store, news)
    addInserts(store, step, 'one')
    expect(store.getState().document.pieces).toHaveLength(before + 1)
  })

  it('are not made of a pocket that is not there, or of values that are bad by now', () => {
    const { store, step, before, news } = withPocket()
    setParam(store, step, 'clearance', -1, 'Clearance')
    addInserts(store, step, 'one')
    setParam(store, step, 'clearance', 0.2, 'Clearance')
    tell(store, undefined)
    addInserts(store, step, 'one')
    expect(store.getState().document.pieces).toHaveLength(before)
    // a long name is cut between characters, and can be saved
    const body = currentPiece(store.getState())
    if (!body) throw new Error('no piece')
    renamePiece(store, body.id, `${'🏮'.repeat(39)}a`)
    tell(store, news)
    addInserts(store, step, 'one')
    expect(store.getState().document.pieces).toHaveLength(before + 1)
    expect(() => encodeURIComponent(currentPiece(store.getState())?.name ?? '')).not.toThrow()
    expect(projectDocument.safeParse(store.getState().document).success).toBe(true)
  })
})

describe('lettering in the store', () => {
  const letters = (store: ReturnType<typeof open>) => routeOf(store)[0].params.letters as { of: string; list: { at: number }[] } | undefined

  it('carries single letters and what is picked through typing, and back through undo', () => {
    const store = open()
    setWords(store, 'lettering-1', 'LLAMA', 5)
    setParam(store, 'lettering-1', 'letters', { of: 'LLAMA', list: [{ at: 1, turn: 9 }] }, 'turn')
    store.getState().pick([1, 2])
    vi.advanceTimersByTime(2000)
    // an L typed before both: the caret tells which is new
    setWords(store, 'lettering-1', 'LLLAMA', 1)
    expect(letters(store)).toEqual({ of: 'LLLAMA', list: [{ at: 2, turn: 9 }] })
    expect(store.getState().picked).toEqual([2, 3])
    store.getState().undo()
    expect(letters(store)).toEqual({ of: 'LLAMA', list: [{ at: 1, turn: 9 }] })
  })

  it('heals letters of a text that was changed elsewhere before it is typed on', () => {
    const store = open()
    setParams(store, 'lettering-1', { text: 'Tern Quay', letters: { of: 'Quay', list: [{ at: 0, dy: 2 }] } }, 'by hand')
    setWords(store, 'lettering-1', 'Tern Quays', 10)
    expect(letters(store)).toEqual({ of: 'Tern Quays', list: [{ at: 5, dy: 2 }] })
  })

  it('picks, adds to what is picked and takes away from it', () => {
    const store = open()
    const picked = () => store.getState().picked
    store.getState().pick([3])
    store.getState().pick([1], true)
    expect(picked()).toEqual([1, 3])
    store.getState().pick([3], true)
    expect(picked()).toEqual([1])
    store.getState().pick([0])
    expect(picked()).toEqual([0])
    addPiece(store)
    expect(picked()).toEqual([])
  })

  it('makes the project carry every face and drawing it is given, each once', () => {
    const store = open()
    const face = { sha256: 'a'.repeat(64), name: 'Own face', bytes: 1234 }
    setFace(store, placeOf(store, 'lettering-1'), face)
    setFace(store, placeOf(store, 'lettering-1'), face)
    addPiece(store, 'drawing')
    setAsset(store, placeOf(store, 'vector-file-1'), 'file', { sha256: 'b'.repeat(64), name: 'mark.svg', bytes: 99 }, 'vector')
    const { document } = store.getState()
    expect(projectDocument.safeParse(document).success).toBe(true)
    expect(document.assets.map((a) => [a.name, a.type])).toEqual([
      ...newProject().assets.map((a) => [a.name, a.type]),
      ['Own face', 'font'],
      ['mark.svg', 'vector'],
    ])
    expect(routeOf(store)[0].params.file).toEqual({ sha256: 'b'.repeat(64), name: 'mark.svg' })
    expect(routeOf(store).map((s) => s.kind)).toEqual(['vector-file', 'layers', 'extrude', 'dress'])
  })

  it('lets a file land on the piece and step it was chosen for, whatever is in hand by then', () => {
    const store = open()
    addPiece(store, 'drawing')
    const at = placeOf(store, 'vector-file-1')
    addPiece(store, 'drawing')
    const other = store.getState().pieceId
    expect(setAsset(store, at, 'file', { sha256: 'b'.repeat(64), name: 'mark.svg', bytes: 99 }, 'vector')).toBe(true)
    const of = (id: string) => store.getState().document.pieces.find((p) => p.id === id)?.route[0].params.file
    expect(of(at.piece)).toEqual({ sha256: 'b'.repeat(64), name: 'mark.svg' })
    expect(of(other)).toBeUndefined()
    // a picture for the board as well
    expect(layUnder(store, at.piece, { sha256: 'c'.repeat(64), name: 'quay.png', bytes: 5 })).toBe(true)
    expect(
      store
        .getState()
        .document.pieces.filter((p) => p.board?.picture)
        .map((p) => p.id),
    ).toEqual([at.piece])
    // and nowhere when what it was for is gone
    removePiece(store, at.piece)
    const before = store.getState().document
    expect(setAsset(store, at, 'file', { sha256: 'd'.repeat(64), name: 'late.svg', bytes: 9 }, 'vector')).toBe(false)
    expect(layUnder(store, at.piece, { sha256: 'd'.repeat(64), name: 'late.png', bytes: 9 })).toBe(false)
    expect(store.getState().document).toBe(before)
  })

  it('puts pieces in their places and hides them, each as a step of undo', () => {
    const store = open()
    addPiece(store, 'plate')
    const { pieceId } = store.getState()
    const piece = () => store.getState().document.pieces.find((p) => p.id === pieceId)
    setPlace(store, pieceId, { position: [0, 0, -6], turn: [0, 15, 0], size: 1 }, 'forward')
    setHidden(store, pieceId, true)
    expect(piece()).toMatchObject({ hidden: true, place: { position: [0, 0, -6], turn: [0, 15, 0], size: 1 } })
    expect(projectDocument.safeParse(store.getState().document).success).toBe(true)
    store.getState().undo()
    expect(piece()?.hidden).toBeUndefined()
    store.getState().undo()
    expect(piece()?.place).toBeUndefined()
  })

  it('writes steps with the version of their kind, so that later versions know what to bring up to date', () => {
    const store = open()
    insertStep(store, 1, 'slice', 'Slice')
    for (const step of routeOf(store)) expect(step.version).toBe(stepKind(step.kind)?.version)
  })
})
