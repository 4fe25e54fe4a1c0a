import { cameraAt, fieldOfView, lensOf, LONGEST_LENS, SHORTEST_LENS } from '@kelvar/core/document/camera'
import { MAX_TRY_OUTS, projectDocument, type RouteStep } from '@kelvar/core/document/schema'
import { newProject } from '@kelvar/core/project/new-project'
import { CAMERA_MOVES } from '@kelvar/core/project/movements'
import { effectiveParams } from '@kelvar/core/steps/fields'
import { stepKind } from '@kelvar/core/steps/registry'
import type { ByHand } from '@kelvar/core/steps/shared/repeating'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { keyCamera, moveCamera } from '../src/state/actions/camera'
import { changeCopy, changeOf, copyingStep, HAND } from '../src/state/actions/copies'
import { setParam } from '../src/state/actions/steps'
import { keepTryOut, removeTryOut, renameTryOut, takeTryOut, withPresentWords } from '../src/state/actions/try-outs'
import { setWords } from '../src/state/actions/words'
import { createWorkbenchStore, type PickedCopy } from '../src/state/store'
import { currentPiece } from '../src/state/work'

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true })
const open = () => createWorkbenchStore('id', newProject('By hand'), 1)
type Store = ReturnType<typeof open>
const piece = (store: Store) => currentPiece(store.getState()) as NonNullable<ReturnType<typeof currentPiece>>
const valid = (store: Store) => expect(projectDocument.safeParse(store.getState().document).error?.issues).toBeUndefined()
const paramOf = (store: Store, kind: string, name: string) => piece(store).route.find((s) => s.kind === kind)?.params[name]

describe('try-outs', () => {
  it('keep the values of the moment, each under a name and an id of its own, as many as there may be', () => {
    const store = open()
    for (let i = 0; i < MAX_TRY_OUTS + 3; i++) {
      setParam(store, 'extrude-1', 'depth', 5 + i, 'Extrude: depth', `depth ${i}`)
      keepTryOut(store)
    }
    const kept = piece(store).tryOuts ?? []
    expect(kept).toHaveLength(MAX_TRY_OUTS)
    expect(new Set(kept.map((t) => t.id)).size).toBe(MAX_TRY_OUTS)
    expect(kept.map((t) => t.name)).toEqual(Array.from({ length: MAX_TRY_OUTS }, (_, i) => `Try-out ${i + 1}`))
    expect(kept.map((t) => t.route.find((s) => s.kind === 'extrude')?.params.depth)).toEqual(Array.from({ length: MAX_TRY_OUTS }, (_, i) => 5 + i))
    valid(store)
    // the lowest free number is taken again
    removeTryOut(store, kept[3])
    keepTryOut(store)
    expect(piece(store).tryOuts?.at(-1)?.name).toBe('Try-out 4')
    expect(new Set(piece(store).tryOuts?.map((t) => t.id)).size).toBe(MAX_TRY_OUTS)
    valid(store)
  })

  it('are taken with the words of now, and nothing of what was kept is changed by it', () => {
    const store = open()
    setParam(store, 'extrude-1', 'depth', 30, 'Extrude: depth')
    setParam(store, 'lettering-1', 'size', 80, 'Lettering: cap height')
    keepTryOut(store)
    const [kept] = piece(store).tryOuts ?? []
    const before = JSON.stringify(kept)
    setParam(store, 'extrude-1', 'depth', 4, 'Extrude: depth', 'later')
    setParam(store, 'lettering-1', 'size', 20, 'Lettering: cap height', 'later too')
    setWords(store, 'lettering-1', 'Quay', undefined)
    takeTryOut(store, kept)
    expect(paramOf(store, 'extrude', 'depth')).toBe(30)
    expect(paramOf(store, 'lettering', 'size')).toBe(80)
    expect(paramOf(store, 'lettering', 'text')).toBe('Quay')
    // changing the piece afterwards leaves the try-out
    setParam(store, 'extrude-1', 'depth', 9, 'Extrude: depth', 'afterwards')
    expect(JSON.stringify(piece(store).tryOuts?.[0])).toBe(before)
    store.getState().undo()
    store.getState().undo()
    expect(paramOf(store, 'extrude', 'depth')).toBe(4)
    expect(paramOf(store, 'lettering', 'text')).toBe('Quay')
    valid(store)
  })

  it('keep words of their own where the piece has no such lettering any more', () => {
    const store = open()
    keepTryOut(store)
    const [kept] = piece(store).tryOuts ?? []
    const was = kept.route.find((s) => s.kind === 'lettering')?.params.text
    const other = {
      ...piece(store),
      route: piece(store).route.map((s): RouteStep => (s.kind === 'lettering' ? { ...s, id: 'lettering-9', params: { text: 'Elsewhere' } } : s)),
    }
    expect(withPresentWords(kept, other).find((s) => s.kind === 'lettering')?.params.text).toBe(was)
    const same = {
      ...piece(store),
      route: piece(store).route.map((s): RouteStep => (s.kind === 'lettering' ? { ...s, params: { ...s.params, text: 'Here' } } : s)),
    }
    expect(withPresentWords(kept, same).find((s) => s.kind === 'lettering')?.params.text).toBe('Here')
  })

  it('are renamed letter by letter in one step of undo, and removed and put back by undo', () => {
    const store = open()
    keepTryOut(store)
    const [{ id }] = piece(store).tryOuts ?? []
    const steps = store.getState().past.length
    for (const name of ['D', 'De', 'Deep']) renameTryOut(store, id, name)
    expect(store.getState().past.length).toBe(steps + 1)
    expect(piece(store).tryOuts?.[0].name).toBe('Deep')
    renameTryOut(store, 'none of them', 'x')
    removeTryOut(store, (piece(store).tryOuts ?? [])[0])
    expect(piece(store).tryOuts).toEqual([])
    store.getState().undo()
    expect(piece(store).tryOuts?.[0].name).toBe('Deep')
    valid(store)
  })
})

describe('single copies', () => {
  /** Words with bulbs in them, whose copies are changed by hand. */
  function bulbs(): Store {
    const store = open()
    store.getState().edit('bulbs', (draft) => {
      const at = draft.pieces[0].route.length
      draft.pieces[0].route.splice(at, 0, { id: 'fill-inside-1', kind: 'fill-inside', on: true, params: { unit: 'bulb' } })
    })
    return store
  }
  const copy = (at: number, spot: readonly [number, number, number], of = 'Hello'): PickedCopy => ({
    step: 'fill-inside-1',
    number: 1,
    of,
    at,
    letter: of[at] ?? '',
    spot,
  })
  const hand = (store: Store): ByHand => {
    const step = piece(store).route.find((s) => s.id === 'fill-inside-1') as RouteStep
    return effectiveParams(stepKind(step.kind) as NonNullable<ReturnType<typeof stepKind>>, step.params)[HAND] as ByHand
  }

  it('are those of the last step that repeats and is switched on, as far as one looks', () => {
    const step = (id: string, kind: string, on = true): RouteStep => ({ id, kind, on, params: {} })
    const route = [step('a', 'lettering'), step('b', 'extrude'), step('c', 'fill-inside'), step('d', 'dress'), step('e', 'on-surface'), step('f', 'dress')]
    expect(copyingStep(route, undefined)?.id).toBe('e')
    expect(copyingStep(route, 'd')?.id).toBe('c')
    expect(copyingStep(route, 'c')?.id).toBe('c')
    expect(copyingStep(route, 'b')).toBeUndefined()
    expect(copyingStep(route, 'not there')?.id).toBe('e')
    expect(
      copyingStep(
        route.map((s) => (s.id === 'e' ? { ...s, on: false } : s)),
        undefined,
      )?.id,
    ).toBe('c')
    expect(copyingStep([step('x', 'no such kind')], undefined)).toBeUndefined()
  })

  it('are left out, moved and put back each for itself, and the last change of a copy is the one that counts', () => {
    const act = fc.record({
      at: fc.integer({ min: 0, max: 4 }),
      spot: fc.constantFrom<[number, number, number]>([0, 0, 0], [0.5, 0, 0], [0, 1, 2]),
      change: fc.oneof(
        fc.constant('out' as const),
        fc.constant('back' as const),
        fc.tuple(number(-9, 9), number(-9, 9), number(-9, 9)).map((by) => ({ by })),
      ),
    })
    fc.assert(
      fc.property(fc.array(act, { maxLength: 14 }), (acts) => {
        const store = bulbs()
        const model = new Map<string, unknown>()
        acts.forEach(({ at, spot, change }, i) => {
          changeCopy(store, copy(at, spot), change === 'out' ? { out: true } : change, `gesture ${i}`)
          const key = `${at} ${spot.join()}`
          if (change === 'back') model.delete(key)
          else model.set(key, change === 'out' ? { out: true, by: [0, 0, 0] } : { out: false, by: change.by })
        })
        const list = hand(store).list
        expect(list).toHaveLength(model.size)
        for (const { at, spot, out, by } of list) expect({ out, by }).toEqual(model.get(`${at} ${spot.join()}`))
        valid(store)
        // all of it can be undone
        store.getState().undo(acts.length)
        expect(hand(store).list).toEqual([])
      }),
      { numRuns: 40 },
    )
  })

  it('stay with their letters when others were typed since, and go with a letter that went', () => {
    const store = bulbs()
    changeCopy(store, copy(0, [0, 0, 0], 'Hello'), { out: true }, 'a')
    changeCopy(store, copy(4, [1, 0, 0], 'Hello'), { by: [1, 2, 3] }, 'b')
    // an o before the H is gone, and a word has come in front of it all
    const now = copy(6, [0, 0, 0], 'Oh Hell')
    expect(changeOf(hand(store), copy(3, [0, 0, 0], 'Oh Hello'))).toMatchObject({ out: true })
    expect(changeOf(hand(store), copy(7, [1, 0, 0], 'Oh Hello'))).toMatchObject({ by: [1, 2, 3] })
    changeCopy(store, now, { by: [0, 0, 5] }, 'c')
    expect(hand(store).of).toBe('Oh Hell')
    expect(
      hand(store)
        .list.map(({ at }) => at)
        .sort(),
    ).toEqual([3, 6])
    valid(store)
  })

  it('are found again though their spot is off by a rounding, and nothing happens at a step that is gone', () => {
    const store = bulbs()
    changeCopy(store, copy(1, [0.12345, 0, 0]), { out: true }, 'a')
    expect(hand(store).list[0].spot).toEqual([0.123, 0, 0])
    expect(changeOf(hand(store), copy(1, [0.12345, 0, 0]))).toBeDefined()
    expect(changeOf(hand(store), copy(1, [0.2, 0, 0]))).toBeUndefined()
    const before = store.getState().document
    changeCopy(store, { ...copy(1, [0, 0, 0]), step: 'gone-1' }, { out: true })
    expect(store.getState().document).toBe(before)
  })
})

describe('the project’s camera', () => {
  const stand = fc.record({
    at: fc.tuple(number(-500, 500), number(-500, 500), number(100, 900)),
    aim: fc.tuple(number(-50, 50), number(-50, 50), number(-50, 50)),
    lens: number(SHORTEST_LENS, LONGEST_LENS),
  })

  it('stands at every key as it was put there, whatever the order, and each key is one step of undo', () => {
    fc.assert(
      fc.property(fc.uniqueArray(fc.integer({ min: 0, max: 95 }), { minLength: 1, maxLength: 6 }), fc.infiniteStream(stand), (frames, stands) => {
        const store = open()
        const put = frames.map((frame) => {
          const one = stands.next().value
          store.getState().seek(frame)
          keyCamera(store, one)
          return { frame, one }
        })
        for (const { frame, one } of put) expect(cameraAt(store.getState().document, frame)).toEqual(one)
        expect(store.getState().through).toBe(true)
        valid(store)
        store.getState().undo(frames.length)
        expect(store.getState().document.camera).toBeUndefined()
      }),
      { numRuns: 25 },
    )
  })

  it('goes through each ready movement about where it stands, to the last frame', () => {
    fc.assert(
      fc.property(stand, fc.constantFrom(...CAMERA_MOVES), fc.integer({ min: 0, max: 95 }), (from, move, frame) => {
        const store = open()
        store.getState().seek(frame)
        moveCamera(store, move, from)
        const { document } = store.getState()
        const begin = frame < 94 ? frame : 0
        const [first, last] = [begin, 95].map((f) => cameraAt(document, f) as NonNullable<ReturnType<typeof cameraAt>>)
        const off = ({ at, aim }: typeof first) => at.map((v, k) => v - aim[k])
        const far = Math.hypot(...off(from))
        if (move === 'push') {
          // from where it stands straight towards what it looks at, three tenths of the way
          off(first).forEach((v, k) => expect(v).toBeCloseTo(off(from)[k], 2))
          off(last).forEach((v, k) => expect(v).toBeCloseTo(0.7 * off(from)[k], 2))
        } else {
          // as far to one side as to the other, with what it is about in the middle of the way
          for (const end of [first, last]) {
            expect(Math.hypot(...off(end))).toBeCloseTo(far, 1)
            expect(off(end)[1]).toBeCloseTo(off(from)[1], 2)
          }
          if (move === 'slide') for (let k = 0; k < 3; k++) expect((first.at[k] + last.at[k]) / 2).toBeCloseTo(from.at[k], 2)
          else for (let k = 0; k < 3; k++) expect(last.aim[k]).toBeCloseTo(from.aim[k], 2)
        }
        expect(first.lens).toBe(from.lens)
        const keys = document.camera?.at.keys ?? []
        expect(keys[0].at).toBe(begin)
        expect(keys.at(-1)?.at).toBe(95)
        expect(keys.map((key) => key.at)).toEqual([...new Set(keys.map((key) => key.at))].sort((a, b) => a - b))
        // it can see all along
        for (let f = begin; f < 96; f += 5) expect(cameraAt(document, f)).toBeDefined()
        valid(store)
      }),
      { numRuns: 60 },
    )
  })

  it('has the field of view of its lens, and the lens of its field of view', () => {
    fc.assert(
      fc.property(number(SHORTEST_LENS, LONGEST_LENS), (lens) => {
        expect(lensOf(fieldOfView(lens))).toBeCloseTo(lens, 6)
      }),
    )
    // 24 mm high, at 12 mm: a right angle
    expect(fieldOfView(12)).toBeCloseTo(90, 9)
    expect(cameraAt({ camera: undefined }, 3)).toBeUndefined()
  })
})
