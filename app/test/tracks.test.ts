import { track } from '@kelvar/core/motion/track'
import { placeAt } from '@kelvar/core/document/moment'
import { type Place, projectDocument, type RouteStep } from '@kelvar/core/document/schema'
import { newProject } from '@kelvar/core/project/new-project'
import { stepKind } from '@kelvar/core/steps/registry'
import type { StepKind } from '@kelvar/core/steps/step'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { setWords } from '../src/state/actions/words'
import { setPlace, setPlaceTracks, takeFrame } from '../src/state/actions/pieces'
import { paramsAtFrame, setKeys, setValue, spanning, withKey, withoutKey } from '../src/state/actions/tracks'
import { setTracks } from '../src/state/actions/picked-keys'
import { FrameCache } from '../src/state/frames'
import { createWorkbenchStore } from '../src/state/store'
import { contentAt, currentWork, moves, workAt, workOf } from '../src/state/work'
import type { RouteNews, Work } from '../src/workers/messages'
import type { ViewMesh } from '../src/workers/view-mesh'

const frames = fc.integer({ min: 0, max: 40 })

describe('keys', () => {
  it('stay in order, one at a frame, whatever is done to them; the last one takes its track along', () => {
    const change = fc.oneof(
      fc.record({ how: fc.constant('set' as const), at: frames, value: fc.integer({ min: -50, max: 50 }) }),
      fc.record({ how: fc.constant('take' as const), at: frames, value: fc.constant(0) }),
    )
    fc.assert(
      fc.property(fc.array(change, { maxLength: 30 }), (changes) => {
        let now: ReturnType<typeof withoutKey>
        const model = new Map<number, number>()
        for (const { how, at, value } of changes) {
          if (how === 'set') {
            now = withKey(now, at, value)
            model.set(at, value)
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
    setTracks(store, [{ step: step().id, path: 'depth', track: withKey(undefined, 0, 12) }], 'key')
    setValue(store, step(), 'depth', 20, 'depth')
    expect(step().tracks?.depth.keys.map(({ at, value }) => [at, value])).toEqual([
      [0, 12],
      [30, 20],
    ])
    expect(paramsAtFrame(stepKind('extrude') as StepKind, step(), 15).depth).toBeCloseTo(16, 6)
    // beyond its bounds it is held to them
    setTracks(store, [{ step: step().id, path: 'tolerance', track: withKey(undefined, 0, -4) }], 'key')
    expect(paramsAtFrame(stepKind('extrude') as StepKind, step(), 15).tolerance).toBe(0.002)
    setTracks(store, [{ step: step().id, path: 'tolerance', track: undefined }], 'no key')
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
    setTracks(store, [{ step: step().id, path: 'depth', track: undefined }], 'no key')
    expect('tracks' in step()).toBe(false)
  })
})

describe('a value that moves', () => {
  it('gets a key where it is pulled in the view, one step of undo for a whole drag, and of an edge only what is moved', () => {
    const store = createWorkbenchStore('pulled', newProject('Pulled'), 1)
    const extrude = () => store.getState().document.pieces[0].route[1]
    const kind = stepKind('extrude') as StepKind
    setKeys(store, extrude(), 'front', [{ path: 'front.inset', value: 1 }], 'set', 'key')
    // the rest of an edge that was never set comes along, so that it is whole at every frame
    expect(kind.params.safeParse(paramsAtFrame(kind, extrude(), 12)).success).toBe(true)
    expect(extrude().params.front).toMatchObject({ profile: expect.any(String), height: expect.any(Number) })
    setTracks(store, [{ step: extrude().id, path: 'depth', track: withKey(undefined, 0, 10) }], 'key')
    store.getState().seek(24)
    const steps = store.getState().past.length
    for (const depth of [11, 12, 15]) setValue(store, extrude(), 'depth', depth, 'depth', 'drag:depth/1')
    expect(store.getState().past).toHaveLength(steps + 1)
    expect(extrude().tracks?.depth.keys.map(({ at, value }) => [at, value])).toEqual([
      [0, 10],
      [24, 15],
    ])
    setValue(store, extrude(), 'front', { ...(extrude().params.front as object), inset: 2, height: 3 }, 'edge')
    expect(extrude().tracks?.['front.inset'].keys.map(({ value }) => value)).toEqual([1, 2])
    expect(extrude().params.front).toMatchObject({ height: 3 })
    expect(paramsAtFrame(kind, extrude(), 24).front).toMatchObject({ inset: 2, height: 3 })
    store.getState().undo(2)
    expect(extrude().tracks?.depth.keys).toHaveLength(1)
  })
})

describe('all keys of a value', () => {
  it('are shifted and stretched without changing places or times of others', () => {
    const times = fc.uniqueArray(fc.integer({ min: 0, max: 60 }), { minLength: 1, maxLength: 8 }).map((list) => list.sort((a, b) => a - b))
    fc.assert(
      fc.property(times, fc.integer({ min: -5, max: 80 }), fc.integer({ min: -5, max: 200 }), (list, from, to) => {
        const before = track.parse({ keys: list.map((at) => ({ at, value: at })) })
        const after = spanning(before, from, to)
        expect(track.safeParse(after).success).toBe(true)
        expect(after.keys.map(({ value }) => value)).toEqual(before.keys.map(({ value }) => value))
        if (after === before) return
        expect(after.keys[0].at).toBe(Math.max(0, from))
        if (list.length > 1) expect(after.keys[list.length - 1].at).toBeCloseTo(to, 3)
        // what lay a share of the way between still does
        const share = (keys: typeof after.keys, i: number) => (keys[i].at - keys[0].at) / (keys[keys.length - 1].at - keys[0].at || 1)
        list.forEach((_, i) => expect(share(after.keys, i)).toBeCloseTo(share(before.keys, i), 2))
      }),
    )
  })
})

describe('places in time', () => {
  const still = { position: [3, 4, 5], turn: [10, 20, 30], size: 2 } as const
  const open = () => {
    const document = newProject('Places')
    document.pieces.push({ ...newProject().pieces[0], id: 'block', name: 'Block', route: [{ id: 'block-1', kind: 'block', on: true, params: {} }] })
    document.pieces[1].place = JSON.parse(JSON.stringify(still))
    document.pieces[0].route.push({ id: 'carve-1', kind: 'carve', on: true, params: { others: [{ piece: 'block' }] } })
    return createWorkbenchStore('places', document, 1)
  }

  it('are keyed where they stand, go from key to key, and move what is made with them', () => {
    const store = open()
    const piece = () => store.getState().document.pieces[1]
    setPlaceTracks(store, 'block', { x: withKey(undefined, 0, 3), turnY: withKey(undefined, 0, 20) }, 'keys')
    store.getState().seek(20)
    setPlace(store, 'block', { ...(placeAt(piece(), 20) as Place), position: [23, 4, 5] }, 'across')
    expect(piece().tracks?.x?.keys.map(({ at, value }) => [at, value])).toEqual([
      [0, 3],
      [20, 23],
    ])
    // what was not moved got no key
    expect(piece().tracks?.turnY?.keys).toHaveLength(1)
    expect(placeAt(piece(), 0)).toEqual(still)
    expect(placeAt(piece(), 10)?.position).toEqual([expect.closeTo(13, 6), 4, 5])
    expect(placeAt(piece(), 500)?.position[0]).toBe(23)
    expect(projectDocument.safeParse(store.getState().document).success).toBe(true)
    // the word is cut by it: its frames are others; the block by itself stays what it is
    const base = workOf(store.getState().document, store.getState().document.pieces[0].id) as Work
    const other = workOf(store.getState().document, 'block') as Work
    expect(moves(base)).toBe(true)
    expect(moves(other)).toBe(false)
    const then = workAt(store.getState().document, base.piece, 10) as Work
    expect(then.others[0].place?.position[0]).toBeCloseTo(13, 6)
    expect(contentAt(base, 10)).not.toBe(contentAt(base, 20))
    expect(contentAt(base, 20)).toBe(contentAt(base, 60))
    store.getState().undo()
    expect(piece().tracks?.x?.keys).toHaveLength(1)
  })

  it('are of another film when its pace is another, where a step is made of a value over time', () => {
    const document = newProject('Pace')
    const [piece] = document.pieces
    const strength = track.parse({
      keys: [
        { at: 0, value: 0 },
        { at: 24, value: 10 },
      ],
    })
    piece.route.push({ id: 'drop-1', kind: 'drop', on: true, params: { force: 'shake' }, tracks: { power: strength } })
    const at = (rate: number) => workOf({ ...document, time: { rate, frames: 48 } }, piece.id)
    expect(at(24)).toBe(at(24))
    expect(at(24)).not.toBe(at(30))
    expect(at(30)?.rate).toBe(30)
    // taken as a piece of its own it is the same simulation: the strength keeps its keys, the moment does not
    const drop = piece.route[piece.route.length - 1]
    drop.tracks = {
      ...drop.tracks,
      at: track.parse({
        keys: [
          { at: 0, value: 0 },
          { at: 24, value: 1 },
        ],
      }),
    }
    const store = createWorkbenchStore('pace', document, 1)
    store.getState().seek(12)
    takeFrame(store, 24)
    const taken = store.getState().document.pieces[1].route.find(({ kind }) => kind === 'drop')
    expect(taken?.tracks).toEqual({ power: strength })
    expect(taken?.params.at).toBeCloseTo(0.5, 1)
    expect(taken?.params.power).toBeUndefined()
  })

  it('sizes stay within what a place may have', () => {
    expect(placeAt({ tracks: { size: track.parse({ keys: [{ at: 0, value: -4 }] }) } }, 3)?.size).toBe(0.001)
    expect(placeAt({}, 3)).toBeUndefined()
  })
})

describe('frames that are kept', () => {
  const mesh = (shape: string, bytes: number, copies?: ViewMesh['copies']): ViewMesh => ({
    shape,
    positions: new Float32Array(bytes / 4),
    normals: new Int16Array(0),
    indices: new Uint32Array(0),
    letters: new Int32Array(0),
    surfaces: [],
    box: [0, 0, 0, 1, 1, 1],
    ...(copies ? { copies } : {}),
  })
  const news = (of: ViewMesh, key = of.shape): RouteNews => ({ steps: [], mesh: of, key, complete: true, ms: 0 })

  it('stay within their bound, the oldest unseen thrown away first', () => {
    const cache = new FrameCache(10_000)
    for (let i = 0; i < 30; i++) {
      cache.put(`${i}`, news(mesh(`shape ${i}`, 1000)))
      // the first is looked at again and again
      expect(cache.get('0')).toBeDefined()
      expect(cache.bytes).toBeLessThanOrEqual(10_000)
    }
    expect(Array.from({ length: 30 }, (_, i) => cache.has(`${i}`)).filter(Boolean)).toHaveLength(10)
    expect(cache.has('29')).toBe(true)
    expect(cache.has('1')).toBe(false)
    expect(cache.holds(10)).toBe(true)
    expect(cache.holds(11)).toBe(false)
  })

  it('have once what they have in common: a letter that only moves, a shape in other colours', () => {
    const cache = new FrameCache(10_000_000)
    for (let i = 0; i < 20; i++) {
      const unit = mesh('letter', 100_000)
      const copies = [{ mesh: unit, matrices: new Float32Array(16), numbers: new Int32Array(1), letters: new Int32Array(1), spots: new Float32Array(3) }]
      cache.put(`${i}`, news({ ...mesh(`frame ${i}`, 0, copies), own: 'nothing' }))
    }
    expect(cache.bytes).toBeLessThan(110_000)
    const [a, b] = ['3', '17'].map((content) => cache.get(content)?.mesh?.copies?.[0].mesh)
    expect(a?.positions).toBe(b?.positions)
  })
})
