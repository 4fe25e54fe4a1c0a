import { newProject } from '@kelvar/core/project/new-project'
import fc from 'fast-check'
import { describe, expect, it, vi } from 'vitest'
import { roundStep, snapPoint } from '@/features/draw/snapping'
import { createWorkbenchStore } from '@/state/store'
import { currentWork } from '@/state/work'
import { insertStep, setParam } from '@/state/actions/steps'
import { setWords } from '@/state/actions/words'

describe('snapPoint', () => {
  const ground = { grid: 5, nodes: [[10, 10]] as const, uprights: [{ at: 3, name: 'a guide' }], levels: [{ at: 40, name: 'the cap height' }] }
  it('holds a point to what is near, a node before lines before the grid, and says to what', () => {
    expect(snapPoint(10.4, 9.7, ground, 1)).toEqual({ x: 10, y: 10, to: ['a node'] })
    expect(snapPoint(3.2, 39.5, ground, 1)).toEqual({ x: 3, y: 40, to: ['a guide', 'the cap height'] })
    expect(snapPoint(20.3, 14.8, ground, 1)).toEqual({ x: 20, y: 15, to: ['the grid'] })
    expect(snapPoint(22.3, 17.4, ground, 1)).toEqual({ x: 22.3, y: 17.4, to: [] })
  })

  it('never moves a point further than its reach in either direction', () => {
    const number = fc.double({ min: -100, max: 100, noNaN: true })
    fc.assert(
      fc.property(number, number, fc.double({ min: 0.1, max: 3, noNaN: true }), fc.constantFrom(0, 1, 2.5, 10), (x, y, reach, grid) => {
        const p = snapPoint(x, y, { ...ground, grid }, reach)
        expect(Math.abs(p.x - x)).toBeLessThanOrEqual(reach)
        expect(Math.abs(p.y - y)).toBeLessThanOrEqual(reach)
        // and holds still what is held already
        if (p.to.length > 0) expect(snapPoint(p.x, p.y, { ...ground, grid }, reach * 0.1)).toMatchObject({ x: p.x, y: p.y })
      }),
    )
  })

  it('rounds rulers to 1, 2 and 5', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.05, max: 400, noNaN: true }), (scale) => {
        const step = roundStep(scale, 58)
        expect(step * scale).toBeGreaterThanOrEqual(57.999)
        expect(step * scale).toBeLessThan(58 * 2.51)
        expect([1, 2, 5, 10]).toContain(Number((step / 10 ** Math.floor(Math.log10(step) + 1e-9)).toFixed(6)))
      }),
    )
  })
})

describe('what is drawn on letters', () => {
  it('goes with them as the words are typed, and waits while a letter is missing', () => {
    const store = createWorkbenchStore('id', newProject(), 1)
    insertStep(store, 1, 'redraw', 'Redraw')
    insertStep(store, 2, 'extend', 'Extend')
    const base = [{ closed: true, nodes: [{ x: 0, y: 0 }] }]
    // the second l of Hello, and a limb from H to o
    setParam(store, 'redraw-1', 'edits', { of: 'Hello', list: [{ at: 3, text: 'l', base, paths: base }] }, 'Redraw')
    const place = (at: number) => ({ at, contour: 0, share: 0 })
    setParam(store, 'extend-1', 'limbs', { of: 'Hello', list: [{ from: place(0), to: place(4) }] }, 'Extend')
    const held = () => {
      const [, redraw, extend] = store.getState().document.pieces[0].route
      const { of, list } = redraw.params.edits as { of: string; list: { at: number }[] }
      const limbs = extend.params.limbs as { of: string; list: { from: { at: number }; to: { at: number } }[] }
      return { of, at: list[0].at, limbs: limbs.of, from: limbs.list[0].from.at, to: limbs.list[0].to.at }
    }
    setWords(store, 'lettering-1', 'Oh, Hello', 4)
    expect(held()).toEqual({ of: 'Oh, Hello', at: 7, limbs: 'Oh, Hello', from: 4, to: 8 })
    // another l typed before it
    setWords(store, 'lettering-1', 'Oh, Helllo', 7)
    expect(held()).toMatchObject({ of: 'Oh, Helllo', at: 8, to: 9 })
    // the o is gone: the limb keeps the text it was made for, the redrawn letter goes on
    setWords(store, 'lettering-1', 'Oh, Helll', 9)
    expect(held()).toMatchObject({ of: 'Oh, Helll', at: 8, limbs: 'Oh, Helllo', from: 4, to: 9 })
    setWords(store, 'lettering-1', 'Oh, Helllos', 11)
    expect(held()).toMatchObject({ limbs: 'Oh, Helllos', to: 9 })
    for (let i = 0; i < 4; i++) store.getState().undo()
    expect(store.getState().document.pieces[0].route[0].params.text).not.toBe('Oh, Helllos')
  })

  it('a drag is one step of undo, however long it takes', () => {
    const store = createWorkbenchStore('id', newProject(), 1)
    vi.useFakeTimers()
    try {
      for (let i = 0; i < 5; i++) {
        setParam(store, 'lettering-1', 'size', 40 + i, 'Drag', 'drag:1')
        // far longer than quick changes of one value may be apart
        vi.advanceTimersByTime(10_000)
      }
    } finally {
      vi.useRealTimers()
    }
    expect(store.getState().past.length).toBe(1)
    setParam(store, 'lettering-1', 'size', 60, 'Drag', 'drag:2')
    expect(store.getState().past.length).toBe(2)
  })

  it('work for the workers stays the same object until something it is made of changes', () => {
    const store = createWorkbenchStore('id', newProject(), 1)
    const first = currentWork(store.getState())
    store.getState().edit('Rename', (draft) => {
      draft.name = 'Other'
    })
    expect(currentWork(store.getState())).toBe(first)
    setParam(store, 'lettering-1', 'text', 'Tern', 'Words')
    expect(currentWork(store.getState())).not.toBe(first)
  })
})
