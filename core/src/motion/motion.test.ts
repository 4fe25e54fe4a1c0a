import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { assets, wordRoute } from '../../test/helpers'
import { Memo } from '../cache/memo'
import { momentOf, paramsAtMoment, pieceAtRest } from '../document/moment'
import { projectDocument, type RouteStep } from '../document/schema'
import { evaluateRoute } from '../evaluate/route'
import { readDocumentText } from '../project/read'
import { routeDifferences } from '../project/differences'
import { newProject } from '../project/new-project'
import type { Solid } from '../solid/solid'
import { type Bezier, EASES, eased } from './easing'
import { type Track, track, valueAt } from './track'

const time = fc.double({ min: 0, max: 1, noNaN: true })
const bezier = fc.tuple(time, fc.double({ min: -2, max: 3, noNaN: true }), time, fc.double({ min: -2, max: 3, noNaN: true }))

/** De Casteljau, and bisection on the time alone: slow, and shares nothing with the solver. */
function byBisection([x1, y1, x2, y2]: Bezier, t: number): number {
  const on = (p: number, q: number, s: number) => {
    const mix = (a: number, b: number) => a + s * (b - a)
    const [a, b, c] = [mix(0, p), mix(p, q), mix(q, 1)]
    return mix(mix(a, b), mix(b, c))
  }
  let [low, high] = [0, 1]
  for (let i = 0; i < 200; i++) {
    const middle = (low + high) / 2
    if (on(x1, x2, middle) > t) high = middle
    else low = middle
  }
  return on(y1, y2, (low + high) / 2)
}

describe('a piece at rest', () => {
  it('has the values of its frame, wherever that is, and nothing of it moves', () => {
    const [piece] = newProject('At rest').pieces
    const keys = (a: number, b: number) =>
      track.parse({
        keys: [
          { at: 0, value: a },
          { at: 48, value: b },
        ],
        after: 'again',
      })
    const moving = {
      ...piece,
      tracks: { x: keys(0, 30) },
      route: piece.route.map((step) => (step.kind === 'extrude' ? { ...step, tracks: { depth: keys(4, 20), 'front.inset': keys(0, 2) } } : step)),
    }
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 200 }), (frame) => {
        const moment = momentOf(frame, 24)
        const still = pieceAtRest(moving, moment)
        expect(still.tracks).toBeUndefined()
        expect(still.place?.position[0]).toBe(valueAt(moving.tracks.x, frame))
        still.route.forEach((step, i) => {
          expect(step.tracks).toBeUndefined()
          const then = paramsAtMoment(moving.route[i], moment)
          expect([step.params, step.on]).toEqual([then.params, then.on])
        })
      }),
    )
    // the piece itself still moves
    expect(Object.keys(moving.route.find(({ kind }) => kind === 'extrude')?.tracks ?? {})).toHaveLength(2)
  })
})

describe('easing', () => {
  it('is the Bézier to 1e-9 wherever its time does not stand still', () => {
    fc.assert(
      fc.property(bezier, time, (curve, t) => {
        const [x1, , x2] = curve
        // where the time hardly moves any value of a stretch is right
        const still = (s: number) => Math.abs(3 * (1 - 3 * x2 + 3 * x1) * s * s + 2 * (3 * x2 - 6 * x1) * s + 3 * x1)
        if (Math.min(...Array.from({ length: 101 }, (_, i) => still(i / 100))) < 0.02) return
        expect(Math.abs(eased(curve, t) - byBisection(curve, t))).toBeLessThan(1e-9)
      }),
      { numRuns: 400 },
    )
    for (const curve of Object.values(EASES))
      for (let i = 0; i <= 1000; i++) expect(Math.abs(eased(curve, i / 1000) - byBisection(curve, i / 1000))).toBeLessThan(1e-9)
  })
})

const of = (values: [number, unknown][], more: Record<string, unknown> = {}): Track =>
  track.parse({ keys: values.map(([at, value]) => ({ at, value })), ...more })

describe('a track', () => {
  it('has its keys’ values at their frames, and stays before and after them', () => {
    const t = of([
      [10, 3],
      [20, 7],
      [24, -1],
    ])
    expect([0, 10, 20, 24, 900].map((f) => valueAt(t, f))).toEqual([3, 3, 7, -1, -1])
    expect(
      valueAt(
        of(
          [
            [0, 0],
            [10, 10],
          ],
          {
            keys: [
              { at: 0, value: 0, ease: 'even' },
              { at: 10, value: 10 },
            ],
          },
        ),
        2.5,
      ),
    ).toBeCloseTo(2.5, 12)
    expect(
      valueAt(
        track.parse({
          keys: [
            { at: 0, value: 0, ease: 'hold' },
            { at: 10, value: 10 },
          ],
        }),
        9.99,
      ),
    ).toBe(0)
  })

  it('comes round to the frame: again and there and back', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 2, max: 90 }),
        fc.integer({ min: 0, max: 60 }),
        fc.integer({ min: 0, max: 2000 }),
        fc.constantFrom('again', 'there and back'),
        (length, first, frame, after) => {
          const t = of(
            [
              [first, 1],
              [first + length / 2, 5],
              [first + length, 9],
            ],
            { after },
          )
          const period = after === 'again' ? length : 2 * length
          if (frame > first) expect(valueAt(t, frame + period)).toBe(valueAt(t, frame > first + length ? frame : frame + 2 * period))
          // back is there run backwards
          if (after === 'there and back') expect(valueAt(t, first + length + (frame % length))).toBe(valueAt(t, first + length - (frame % length)))
        },
      ),
    )
  })

  it('goes on at the speed with which it came', () => {
    const t = track.parse({
      keys: [
        { at: 0, value: 0, ease: 'even' },
        { at: 24, value: 180 },
      ],
      after: 'goes on',
    })
    for (const f of [25, 48, 240]) expect(valueAt(t, f)).toBeCloseTo(7.5 * f, 6)
  })

  it('trembles, drifts and swings the same at any order of asking, within its bounds', () => {
    for (const kind of ['tremble', 'drift', 'swing'] as const) {
      const t = of(
        [
          [0, 0],
          [12, 100],
        ],
        { besides: { kind, amount: 10, frames: 8, seed: 4 } },
      )
      const forth = Array.from({ length: 100 }, (_, f) => valueAt(t, f))
      const back = Array.from({ length: 100 }, (_, f) => valueAt(t, 99 - f)).reverse()
      expect(back).toEqual(forth)
      const bare = of([
        [0, 0],
        [12, 100],
      ])
      const off = forth.map((v, f) => Math.abs((v as number) - (valueAt(bare, f) as number)))
      expect(Math.max(...off)).toBeLessThan(kind === 'swing' ? 10 : 20)
      expect(Math.max(...off)).toBeGreaterThan(2)
    }
    // a swing dies away
    const t = of(
      [
        [0, 0],
        [12, 100],
      ],
      { besides: { kind: 'swing', amount: 30, frames: 10 } },
    )
    expect(Math.abs((valueAt(t, 80) as number) - 100)).toBeLessThan(0.01)
  })

  it('mixes colours as light, lists number by number, and changes words when they are reached', () => {
    const half = (a: unknown, b: unknown) =>
      valueAt(
        track.parse({
          keys: [
            { at: 0, value: a, ease: 'even' },
            { at: 2, value: b },
          ],
        }),
        1,
      )
    expect(half('#000000', '#ffffff')).toBe('#bcbcbc')
    expect(
      half(
        [
          [0, 10],
          [1, 20],
        ],
        [
          [0, 20],
          [1, 40],
        ],
      ),
    ).toEqual([
      [0, 15],
      [1, 30],
    ])
    expect(half('chamfer', 'round')).toBe('chamfer')
    expect(half(true, false)).toBe(true)
  })

  it('refuses two keys at one frame, keys out of order, and none at all', () => {
    for (const keys of [
      [],
      [
        { at: 3, value: 1 },
        { at: 3, value: 2 },
      ],
      [
        { at: 5, value: 1 },
        { at: 3, value: 2 },
      ],
      [{ at: -1, value: 1 }],
      [{ at: 1e6, value: 1 }],
    ])
      expect(track.safeParse({ keys }).success).toBe(false)
  })
})

const moving = (kind: string, params: Record<string, unknown>, tracks: Record<string, unknown>): RouteStep => ({
  id: `${kind}-1`,
  kind,
  on: true,
  params,
  tracks: tracks as RouteStep['tracks'],
})

describe('a project in time', () => {
  const [words, form] = wordRoute('Pier', 'archivo-bold', { size: 30 }, { depth: 6, front: { profile: 'chamfer', inset: 0.5, height: 0.5 } })
  const depth = of([
    [0, 4],
    [24, 20],
  ])
  const route = [
    words,
    {
      ...form,
      tracks: {
        depth,
        'front.inset': of([
          [0, 0.2],
          [24, 0.8],
        ]),
      },
    },
  ]

  it('gives a frame bit for bit the same whether it is asked for alone or on the way', async () => {
    const memo = new Memo()
    const at = (frame: number, own?: Memo) => evaluateRoute(route, { assets, memo: own ?? new Memo(), moment: { frame, seconds: frame / 24 } })
    for (const frame of [0, 5, 11, 24]) await at(frame, memo)
    const [played, alone] = [(await at(17, memo)).value as Solid, (await at(17)).value as Solid]
    expect(alone.positions).toEqual(played.positions)
    expect(alone.indices).toEqual(played.indices)
    // frames whose inputs are equal are one
    const [last, later] = [await at(24, memo), await at(400, memo)]
    expect(later.steps.map(({ key }) => key)).toEqual(last.steps.map(({ key }) => key))
    expect(later.steps.every(({ reused }) => reused)).toBe(true)
  })

  it('makes no geometry anew for a colour that moves', async () => {
    const memo = new Memo()
    const frames = new Memo()
    const dress = moving(
      'dress',
      { face: { colour: '#000000', roughness: 0.5, metalness: 0 } },
      {
        'face.colour': of([
          [0, '#102030'],
          [24, '#d0a040'],
        ]),
      },
    )
    const made: string[][] = []
    for (const frame of [0, 1, 2]) {
      const { steps } = await evaluateRoute([words, form, dress], { assets, memo, frames, moment: { frame, seconds: 0 } })
      made.push(steps.filter(({ reused }) => !reused).map(({ id }) => id))
    }
    expect(made.slice(1)).toEqual([['dress-1'], ['dress-1']])
  })

  it('holds whole numbers whole and values within their bounds, wherever an easing leads', async () => {
    const block: RouteStep = { id: 'block-1', kind: 'block', on: true, params: { width: 10, height: 10, depth: 10 } }
    const across = track.parse({
      keys: [
        { at: 0, value: 1, ease: 'back first' },
        { at: 20, value: 6, ease: 'beyond and back' },
        { at: 40, value: 1 },
      ],
    })
    const counts: number[] = []
    for (let frame = 0; frame <= 40; frame += 4) {
      const { complete, value } = await evaluateRoute([block, moving('grid', { down: 1 }, { across })], { assets, moment: { frame, seconds: 0 } })
      expect(complete).toBe(true)
      counts.push((value as { placements: { unit: Uint32Array } }).placements.unit.length)
    }
    expect([counts[0], Math.max(...counts), counts[10]]).toEqual([1, 6, 1])
  })

  it('switches a step on in time, and keeps other values of a group', () => {
    const step = moving(
      'bend',
      { angle: 10, front: { inset: 1, height: 2 } },
      {
        on: track.parse({
          keys: [
            { at: 0, value: false, ease: 'hold' },
            { at: 12, value: true },
          ],
        }),
        'front.inset': of([[0, 5]]),
      },
    )
    expect(paramsAtMoment(step, { frame: 3, seconds: 0 })).toEqual({ params: { angle: 10, front: { inset: 5, height: 2 } }, on: false, moving: true })
    expect(paramsAtMoment(step, { frame: 12, seconds: 0 }).on).toBe(true)
    expect(paramsAtMoment(words, { frame: 12, seconds: 0 })).toEqual({ params: words.params, on: true, moving: false })
  })

  it('a key that the step cannot take is said at the step', async () => {
    const { steps } = await evaluateRoute([words, { ...form, tracks: { depth: of([[0, 'deep']]) } }], { assets })
    expect(steps[1]).toMatchObject({ state: 'failed', issues: [{ code: 'bad-value', field: 'depth' }] })
  })

  it('is kept in documents, told in words, and old documents open without it', () => {
    const document = newProject('Moves')
    expect(projectDocument.parse(JSON.parse(JSON.stringify(document))).time).toBeUndefined()
    document.pieces[0].route[1].tracks = { depth }
    const with_ = { ...document, time: { rate: 24, frames: 48 } }
    expect(projectDocument.parse(JSON.parse(JSON.stringify(with_)))).toEqual(with_)
    for (const time of [
      { rate: 0, frames: 10 },
      { rate: 1000, frames: 10 },
      { rate: 24, frames: 1e6 },
    ])
      expect(readDocumentText(JSON.stringify({ ...document, time })).ok).toBe(false)
    expect(routeDifferences([words, form], [words, { ...form, tracks: { depth } }])).toEqual(['Extrude: depth moves, 2 keys'])
    expect(routeDifferences([words, { ...form, tracks: { depth } }], [words, form])).toEqual(['Extrude: depth stands still'])
  })
})
