import { track } from '@kelvar/core/motion/track'
import type { RouteStep } from '@kelvar/core/document/schema'
import { newProject } from '@kelvar/core/project/new-project'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { CAMERA, copyKeys, easeKeys, type KeyAt, moveKeys, PLACE, setTracks, spanKeys, takeKeys, trackAt } from '../src/state/actions/picked-keys'
import { createWorkbenchStore } from '../src/state/store'

/** A project in which a step, the place of its piece, and the camera move, each with keys at these frames. */
function moving(step: readonly number[], place: readonly number[], camera: readonly number[]) {
  const store = createWorkbenchStore('p', newProject('Moves'), 1)
  const keys = (frames: readonly number[], value: (i: number) => number | number[]) =>
    track.parse({ keys: frames.map((at, i) => ({ at, value: value(i), ease: 'gentle' })) })
  const { id } = store.getState().document.pieces[0].route[1] as RouteStep
  store.getState().edit('camera', (draft) => {
    draft.camera = { at: keys(camera, (i) => [i, 0, 9]), aim: keys(camera, () => [0, 0, 0]), lens: keys(camera, () => 50) }
  })
  setTracks(
    store,
    [
      { step: id, path: 'depth', track: keys(step, (i) => i) },
      { step: PLACE, path: 'x', track: keys(place, (i) => i) },
    ],
    'keys',
  )
  const all = [
    ...step.map((at): KeyAt => ({ step: id, path: 'depth', at })),
    ...place.map((at): KeyAt => ({ step: PLACE, path: 'x', at })),
    ...camera.map((at): KeyAt => ({ step: CAMERA, path: 'at', at })),
  ]
  const framesOf = (key: KeyAt) => trackAt(store.getState(), key)?.keys.map(({ at }) => at) ?? []
  return { store, all, framesOf, id }
}

const frames = fc.uniqueArray(fc.integer({ min: 0, max: 60 }), { minLength: 1, maxLength: 8 }).map((list) => list.sort((a, b) => a - b))
const some = fc.array(fc.boolean(), { minLength: 24, maxLength: 24 })

describe('keys that are picked together', () => {
  it('move by the same number of frames, never past one that stays, and back again', () => {
    fc.assert(
      fc.property(frames, frames, frames, some, fc.integer({ min: -70, max: 70 }), (a, b, c, chosen, by) => {
        const { store, all, framesOf } = moving(a, b, c)
        const picked = all.filter((_, i) => chosen[i])
        const before = all.map(framesOf)
        const past = store.getState().past.length
        const moved = moveKeys(store, picked, by, 'drag')
        const held = picked.length > 0 ? moved[0].at - picked[0].at : 0
        expect(Math.abs(held)).toBeLessThanOrEqual(Math.abs(by))
        expect(moved.map(({ at }, i) => at - picked[i].at)).toEqual(picked.map(() => held))
        for (const key of all) {
          const now = trackAt(store.getState(), key)
          expect(track.safeParse(now).success).toBe(true)
          // as many as before, in order, and each that was not picked where it was
          const at = framesOf(key)
          expect([...new Set(at)].sort((x, y) => x - y)).toEqual(at)
          const stays = all.filter((other, i) => !chosen[i] && other.step === key.step).map((other) => other.at)
          for (const frame of stays) expect(at).toContain(frame)
        }
        expect(store.getState().past.length - past).toBe(held === 0 ? 0 : 1)
        if (held !== 0) moveKeys(store, moved, -held, 'back')
        expect(all.map(framesOf)).toEqual(before)
      }),
      { numRuns: 150 },
    )
  })

  it('are copied with their distances, eased, stretched and taken away, each as one step of undo', () => {
    const { store, all, framesOf, id } = moving([0, 10, 20], [5, 30], [0, 24])
    const picked = all.filter(({ at }) => at === 10 || at === 20 || at === 30)
    const past = () => store.getState().past.length
    const begun = past()
    const copies = copyKeys(store, picked, 40)
    expect(copies.map(({ at }) => at)).toEqual([40, 50, 60])
    expect(framesOf(all[0])).toEqual([0, 10, 20, 40, 50])
    expect(framesOf(all[3])).toEqual([5, 30, 60])
    expect(trackAt(store.getState(), copies[1])?.keys.find(({ at }) => at === 50)?.value).toBe(2)
    easeKeys(store, copies, 'hold')
    expect(trackAt(store.getState(), { step: id, path: 'depth' })?.keys.map(({ ease }) => ease)).toEqual(['gentle', 'gentle', 'gentle', 'hold', 'hold'])
    const pressed = spanKeys(store, copies, 40, 45, 'span')
    expect(pressed.map(({ at }) => at)).toEqual([40, 43, 45])
    expect(framesOf(all[3])).toEqual([5, 30, 45])
    // no room: nothing happens
    expect(spanKeys(store, pressed, 20, 25, 'span')).toBe(pressed)
    expect(spanKeys(store, pressed, -1, 25, 'span')).toBe(pressed)
    takeKeys(store, [...pressed, ...all.filter(({ step }) => step === PLACE)])
    expect(framesOf(all[0])).toEqual([0, 10, 20])
    expect(trackAt(store.getState(), { step: PLACE, path: 'x' })).toBeUndefined()
    expect(past() - begun).toBe(4)
    takeKeys(
      store,
      all.filter(({ step }) => step === CAMERA),
    )
    expect(store.getState().document.camera).toBeUndefined()
    for (let i = 0; i < 5; i++) store.getState().undo()
    expect(all.map(framesOf)).toEqual([...Array(3).fill([0, 10, 20]), ...Array(2).fill([5, 30]), ...Array(2).fill([0, 24])])
  })
})
