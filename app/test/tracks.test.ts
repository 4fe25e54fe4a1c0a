import { track } from '@kelvar/core/motion/track'
import { projectDocument, type RouteStep } from '@kelvar/core/document/schema'
import { newProject } from '@kelvar/core/project/new-project'
import { stepKind } from '@kelvar/core/steps/registry'
import type { StepKind } from '@kelvar/core/steps/step'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { setWords } from '../src/state/actions/words'
import { paramsAtFrame, setTrack, setValue, withKey, withKeyAt, withoutKey } from '../src/state/actions/tracks'
import { createWorkbenchStore } from '../src/state/store'
import { currentWork } from '../src/state/work'

const frames = fc.integer({ min: 0, max: 40 })

describe('keys', () => {
  it('stay in order, one at a frame, whatever is done to them; the last one takes its track along', () => {
    const change = fc.oneof(
      fc.record({ how: fc.constant('set' as const), at: frames, to: frames, value: fc.integer({ min: -50, max: 50 }) }),
      fc.record({ how: fc.constant('move' as const), at: frames, to: frames, value: fc.constant(0) }),
      fc.record({ how: fc.constant('take' as const), at: frames, to: frames, value: fc.constant(0) }),
    )
    fc.assert(
      fc.property(fc.array(change, { maxLength: 30 }), (changes) => {
        let now: ReturnType<typeof withoutKey>
        const model = new Map<number, number>()
        for (const { how, at, to, value } of changes) {
          if (how === 'set') {
            now = withKey(now, at, value)
            model.set(at, value)
          } else if (now && how === 'move') {
            now = withKeyAt(now, at, to)
            const moved = model.get(at)
            if (moved !== undefined && !model.has(to)) {
              model.delete(at)
              model.set(to, moved)
            }
          } else if (now) {
            now = withoutKey(now, at)
            model.delete(at)
          }
          expect(now?.keys.map((key) => [key.at, key.value]) ?? []).toEqual([...model].sort(([a], [b]) => a - b))
          if (now) expect(track.safeParse(now).success).toBe(true)
        }
      }),
    )
  })

  it('are set where a value that moves is changed, go with the words, and can be undone', () => {
    const store = createWorkbenchStore('p', newProject('Moves'), 1)
    const step = () => store.getState().document.pieces[0].route[1] as RouteStep
    const still = currentWork(store.getState())
    store.getState().seek(30)
    // what stands still is the same work at every frame
    expect(currentWork(store.getState())).toBe(still)
    setTrack(store, step().id, 'depth', withKey(undefined, 0, 12), 'key')
    setValue(store, step(), 'depth', 20, 'depth')
    expect(step().tracks?.depth.keys.map(({ at, value }) => [at, value])).toEqual([
      [0, 12],
      [30, 20],
    ])
    expect(paramsAtFrame(stepKind('extrude') as StepKind, step(), 15).depth).toBeCloseTo(16, 6)
    // beyond its bounds it is held to them
    setTrack(store, step().id, 'tolerance', withKey(undefined, 0, -4), 'key')
    expect(paramsAtFrame(stepKind('extrude') as StepKind, step(), 15).tolerance).toBe(0.002)
    setTrack(store, step().id, 'tolerance', undefined, 'no key')
    expect(currentWork(store.getState())?.moment).toEqual({ frame: 30, seconds: 1.25 })
    expect(currentWork(store.getState())).toBe(currentWork(store.getState()))
    setWords(store, store.getState().document.pieces[0].route[0].id, 'Other words', undefined)
    expect(step().tracks?.depth.keys.length).toBe(2)
    // a document with keys is one
    expect(projectDocument.parse(JSON.parse(JSON.stringify(store.getState().document)))).toEqual(store.getState().document)
    store.getState().undo(5)
    expect(step().tracks).toBeUndefined()
    store.getState().redo(2)
    expect(step().tracks?.depth.keys.length).toBe(2)
    setTrack(store, step().id, 'depth', undefined, 'no key')
    expect('tracks' in step()).toBe(false)
  })
})
