import { describe, expect, it } from 'vitest'
import { assets, wordRoute } from '../../../test/helpers'
import { Memo } from '../../cache/memo'
import { checkMesh } from '../../check/check'
import type { Piece, Place } from '../../document/schema'
import { evaluateRoute } from '../../evaluate/route'
import { GROUPS, INSIDE } from '../../solid/labels'
import { labelAt, type Solid, solidBounds, triangleCount } from '../../solid/solid'

const at = (x: number, y: number, z: number, turn: [number, number, number] = [0, 0, 0], size = 1): Place => ({ position: [x, y, z], turn, size })
const step = (kind: string, params: Record<string, unknown> = {}) => ({ id: `${kind}-1`, kind, on: true, params })
const slab = (how: string, params: Record<string, unknown>, place?: Place): Piece => ({
  id: 'slab',
  name: 'Slab',
  ...(place ? { place } : {}),
  route: [step('block', { shape: 'box', width: 100, height: 40, depth: 20 }), step(how, { others: [{ piece: 'peg' }], ...params })],
})
/** A bar 10 × 10 mm and 30 mm deep, its foot at y = 0 and its middle at z = 0 where it was made. */
const peg = (place?: Place): Piece => ({
  id: 'peg',
  name: 'Peg',
  ...(place ? { place } : {}),
  route: [step('block', { shape: 'box', width: 10, height: 10, depth: 30 })],
})

async function made(pieces: readonly Piece[], memo = new Memo()) {
  const [piece] = pieces
  const report = await evaluateRoute(piece.route, { assets, memo, pieces, piece: piece.id, place: piece.place })
  return { report, last: report.steps[report.steps.length - 1], solid: report.value?.kind === 'solid' ? report.value : undefined }
}
const volume = (solid: Solid | undefined) => (solid ? checkMesh(solid) : { volume: NaN, sound: false })

describe('Fuse, Carve and Overlap', () => {
  it('join pieces at their places, whatever the place of the piece itself', async () => {
    // the slab reaches from z = −10 to 10 and from y = 0 to 40; the peg's rear 15 mm reach into it
    const places: [Place | undefined, Place][] = [
      [undefined, at(0, 10, 10)],
      [at(70, -30, 5, [0, 0, 90]), at(60, -30, 15, [0, 0, 90])],
      [at(5, 5, 5, [0, 90, 0], 2), at(25, 25, 5, [0, 90, 0], 2)],
    ]
    for (const [own, other] of places) {
      const [fused, carved, common] = await Promise.all(['fuse', 'carve', 'overlap'].map((how) => made([slab(how, {}, own), peg(other)])))
      expect(volume(carved.solid)).toMatchObject({ sound: true, volume: expect.closeTo(80_000 - 1500, 3) })
      expect(volume(fused.solid)).toMatchObject({ sound: true, volume: expect.closeTo(80_000 + 1500, 3) })
      expect(volume(common.solid)).toMatchObject({ sound: true, volume: expect.closeTo(1500, 3) })
      expect(carved.last).toMatchObject({ state: 'sound', told: '1.5 cm³ of 80 cm³ cut out, 5 mm left behind' })
    }
  })

  it('are made anew when one of them is moved, and not when both are', async () => {
    const memo = new Memo()
    const first = await made([slab('carve', {}), peg(at(0, 10, 10))], memo)
    const both = await made([slab('carve', {}, at(3, 4, 5)), peg(at(3, 14, 15))], memo)
    expect(both.last).toMatchObject({ key: first.last.key, reused: true })
    const one = await made([slab('carve', {}, at(3, 4, 5)), peg(at(4, 14, 15))], memo)
    expect(one.last).toMatchObject({ reused: false })
    expect(one.report.steps[0].reused).toBe(true)
  })

  it('follow the words: what is carved is retyped', async () => {
    const words = (text: string): Piece => ({ id: 'peg', name: 'Words', route: wordRoute(text, 'archivo-bold', { size: 12 }, { depth: 6 }) })
    const memo = new Memo()
    const cut: number[] = []
    for (const text of ['Pier', 'Pier 7']) {
      const { solid, last } = await made([slab('carve', { stand: 'depth', depth: 2 }), words(text)], memo)
      expect(last.issues).toEqual([])
      expect(volume(solid).sound).toBe(true)
      expect(solid?.letters.join('')).toBe(text)
      cut.push(80_000 - volume(solid).volume)
    }
    expect(cut[1]).toBeGreaterThan(1.2 * cut[0])
  })

  it('cut to a depth under the face wherever the cutter stands, also deeper than it is, or right through', async () => {
    for (const z of [-80, 0, 500])
      for (const depth of [0.5, 3, 15]) {
        const { solid, last } = await made([slab('carve', { stand: 'depth', depth }), peg(at(0, 10, z))])
        expect(volume(solid)).toMatchObject({ sound: true, volume: expect.closeTo(80_000 - 100 * depth, 2) })
        expect(last.issues).toEqual([])
      }
    const short = { ...peg(at(0, 10, 300)), route: [step('block', { shape: 'box', width: 10, height: 10, depth: 4 })] }
    const { solid, last } = await made([slab('carve', { stand: 'through' }), short])
    expect(volume(solid)).toMatchObject({ sound: true, volume: expect.closeTo(80_000 - 2000, 3) })
    expect(last.told).toBe('2 cm³ of 80 cm³ cut out')
    const deep = await made([slab('carve', { stand: 'depth', depth: 9 }), short])
    expect(volume(deep.solid).volume).toBeCloseTo(80_000 - 900, 2)
  })

  it('name what would fall out of a stencil, and nothing when bridges hold it', async () => {
    const words = (bridged: boolean): Piece => {
      const [lettering, form] = wordRoute('OB8', 'archivo-bold', { size: 20 }, { depth: 6 })
      return { id: 'peg', name: 'Words', place: at(-25, 10, 0), route: [lettering, ...(bridged ? [step('stencil', { width: 2 })] : []), form] }
    }
    const open = await made([slab('carve', { stand: 'through' }), words(false)])
    expect(open.last.issues).toMatchObject([{ code: 'falls-out', message: '5 pieces hang on nothing any more and would fall out.' }])
    expect(open.last.issues[0].places).toHaveLength(5)
    const held = await made([slab('carve', { stand: 'through' }), words(true)])
    expect(held.last.issues).toEqual([])
    expect(volume(held.solid)).toMatchObject({ sound: true, parts: 1 })
  })

  it('stand on the face, so deep in as is wanted', async () => {
    const { solid } = await made([slab('fuse', { stand: 'face', sunk: 0.5 }), peg(at(0, 10, -200))])
    expect(volume(solid)).toMatchObject({ sound: true, volume: expect.closeTo(80_000 + 100 * 29.5, 2) })
    expect(solidBounds((solid as Solid).positions)[5]).toBeCloseTo(10 + 29.5, 4)
  })

  it('say where a cutter misses, and each remedy mends it', async () => {
    const { last } = await made([slab('carve', {}), peg(at(0, 10, 60))])
    const [issue] = last.issues
    expect(issue).toMatchObject({ code: 'misses', severity: 'warning', message: expect.stringContaining('“Peg” does not reach'), places: [[0, 15, 60]] })
    expect(issue.fixes?.map(({ label }) => label)).toEqual(['Sink to 2 mm', 'Right through'])
    for (const { params } of issue.fixes ?? []) expect((await made([slab('carve', params), peg(at(0, 10, 60))])).last.issues).toEqual([])
    const beside = await made([slab('fuse', {}), peg(at(0, 10, 60))])
    const [{ fixes }] = beside.last.issues
    expect((await made([slab('fuse', fixes?.[0].params ?? {}), peg(at(0, 10, 60))])).last.issues).toEqual([])
  })

  it('point out a floor that is too thin, at its place, and the remedy leaves what is asked for', async () => {
    const { last } = await made([slab('carve', { stand: 'depth', depth: 19.7, leave: 1 }), peg(at(0, 10, 0))])
    const [issue] = last.issues
    expect(issue).toMatchObject({
      code: 'thin-floor',
      message: expect.stringContaining('0.3 mm'),
      places: [[expect.anything(), expect.anything(), expect.closeTo(-9.7, 3)]],
    })
    for (const { params } of issue.fixes ?? []) expect((await made([slab('carve', { leave: 1, ...params }), peg(at(0, 10, 0))])).last.issues).toEqual([])
  })

  it('refuse in words what cannot be', async () => {
    const none = await made([{ ...slab('carve', {}), route: [step('block'), step('carve')] }])
    expect(none.last.issues).toMatchObject([{ code: 'no-piece', severity: 'failed', field: 'others' }])
    const apart = await made([slab('overlap', {}), peg(at(500, 0, 0))])
    expect(apart.last.issues).toMatchObject([{ code: 'nothing-left', message: expect.stringContaining('“Peg”') }])
    const ring = await made([slab('fuse', {}), { ...peg(), route: [step('block'), step('carve', { others: [{ piece: 'slab' }] })] }])
    expect(ring.last.issues).toMatchObject([{ code: 'piece-failed', message: expect.stringContaining('is made with') }])
  })

  it('give the inside a colour of its own', async () => {
    const inside = { colour: '#e3c27a', roughness: 0.5, metalness: 0 }
    const [body, cutter] = [slab('carve', {}), peg(at(0, 10, 10))]
    const { solid } = await made([{ ...body, route: [...body.route, step('dress', { inside })] }, cutter])
    if (!solid) throw new Error('nothing made')
    const looks = new Set<string>()
    for (let t = 0; t < triangleCount(solid); t++)
      looks.add(`${GROUPS[labelAt(solid, t, 'group')] === GROUPS[INSIDE]} ${solid.looks[labelAt(solid, t, 'look')].material.colour === inside.colour}`)
    expect([...looks].sort()).toEqual(['false false', 'true true'])
  })
})

describe('Carve lettering and Raise lettering', () => {
  const board: Piece = { id: 'board', name: 'Board', route: [step('block', { shape: 'box', width: 120, height: 40, depth: 20 })] }
  /** A rule of 40 × 6 mm, its middle at (0, 13). */
  const rule: Piece = {
    id: 'rule',
    name: 'Rule',
    place: at(0, 10, 300),
    route: [step('plate', { shape: 'rectangle', width: 40, height: 6 })],
  }
  const words: Piece = { id: 'rule', name: 'Words', place: at(0, 12, -50), route: wordRoute('Quay', 'abril-fatface', { size: 14 }) }
  const on = (other: Piece, kind: string, params: Record<string, unknown>) =>
    made([{ ...board, route: [...board.route, step(kind, { words: { piece: 'rule' }, ...params })] }, other])

  it('cut a groove of the tool’s angle with its ridges, wherever the words stand', async () => {
    for (const angle of [60, 90, 120]) {
      const { solid, last } = await on(rule, 'carve-lettering', { cut: 'v', tool: angle })
      // a hipped roof turned over: half as deep as it is wide at 90°
      const depth = 3 / Math.tan(((angle / 2) * Math.PI) / 180)
      const groove = depth * (6 * 34 * 0.5 + (6 * 6) / 3)
      expect(volume(solid).sound).toBe(true)
      expect(volume(solid).volume / (120 * 40 * 20 - groove)).toBeCloseTo(1, 4)
      expect(last.issues).toEqual([])
    }
  })

  it('cut to a flat floor with leaning walls', async () => {
    for (const draft of [0, 20]) {
      const { solid } = await on(rule, 'carve-lettering', { cut: 'flat', depth: 2, draft })
      const lean = 2 * Math.tan((draft * Math.PI) / 180)
      const [top, floor] = [40 * 6, (40 - 2 * lean) * (6 - 2 * lean)]
      const pocket = (2 / 6) * (top + floor + 4 * ((40 - lean) * (6 - lean)))
      expect(volume(solid)).toMatchObject({ sound: true, volume: expect.closeTo(120 * 40 * 20 - pocket, 0) })
    }
  })

  it('stand as high over the face as is asked for, with their edge', async () => {
    const { solid } = await on(rule, 'raise-lettering', { height: 3, front: { profile: 'square' } })
    expect(volume(solid)).toMatchObject({ sound: true, volume: expect.closeTo(120 * 40 * 20 + 40 * 6 * 3, 1) })
    expect(solidBounds((solid as Solid).positions)[5]).toBeCloseTo(13, 4)
    const edged = await on(rule, 'raise-lettering', { height: 3, front: { profile: 'chamfer', inset: 1, height: 1 } })
    expect(volume(edged.solid).volume).toBeLessThan(volume(solid).volume - 40)
    expect(volume(edged.solid).sound).toBe(true)
  })

  it('keep letters and dress by inside, floor and wall; and follow the words', async () => {
    for (const params of [
      { cut: 'v', tool: 70 },
      { cut: 'flat', depth: 1.5, draft: 8 },
    ]) {
      const { solid, last } = await on(words, 'carve-lettering', params)
      expect(volume(solid).sound).toBe(true)
      expect(last.issues).toEqual([])
      expect(solid?.letters.join('')).toBe('Quay')
      const letters = new Set<number>()
      for (let t = 0; t < triangleCount(solid as Solid); t++)
        if (labelAt(solid as Solid, t, 'group') === INSIDE) letters.add(labelAt(solid as Solid, t, 'letter'))
      expect([...letters].sort()).toEqual([0, 1, 2, 3])
    }
    const raised = await on(words, 'raise-lettering', {})
    expect(volume(raised.solid).sound).toBe(true)
  })

  it('say what is missing or too thin', async () => {
    expect((await on({ ...rule, id: 'other' }, 'carve-lettering', {})).last.issues).toMatchObject([{ code: 'piece-gone' }])
    expect((await on(rule, 'carve-lettering', { words: { piece: '' } })).last.issues).toMatchObject([{ code: 'no-piece', field: 'words' }])
    expect((await on({ ...rule, place: at(500, 0, 0) }, 'carve-lettering', {})).last.issues).toMatchObject([{ code: 'misses' }])
    const thin = await on(rule, 'carve-lettering', { cut: 'flat', depth: 19.5 })
    expect(thin.last.issues).toMatchObject([{ code: 'thin-floor', fixes: [{ label: 'Sink to 19.2 mm', params: { depth: 19.2 } }] }])
    expect((await on(rule, 'carve-lettering', { cut: 'flat', ...thin.last.issues[0].fixes?.[0].params })).last.issues).toEqual([])
  })
})

describe('Cut flat', () => {
  const ring = step('block', { shape: 'ring', width: 80, bar: 14 })
  const cut = (params: Record<string, unknown>) => made([{ id: 'ring', name: 'Ring', route: [ring, step('cut-flat', params)] }])

  it('keeps one side or the other, which make up the whole, or both with a gap between them', async () => {
    const whole = (await made([{ id: 'ring', name: 'Ring', route: [ring] }])).solid
    for (const axis of ['across', 'up', 'forward'])
      for (const off of [0, 3.3]) {
        const [first, second, both] = await Promise.all(['first', 'second', 'both'].map((keep) => cut({ axis, at: off, keep, gap: 2 })))
        for (const { solid } of [first, second, both]) expect(volume(solid).sound).toBe(true)
        expect((volume(first.solid).volume + volume(second.solid).volume) / volume(whole).volume).toBeCloseTo(1, 6)
        expect(volume(both.solid).volume).toBeLessThan(volume(whole).volume)
        const k = ['across', 'up', 'forward'].indexOf(axis)
        const box = solidBounds((whole as Solid).positions)
        expect(solidBounds((first.solid as Solid).positions)[k + 3]).toBeCloseTo((box[k] + box[k + 3]) / 2 + off, 3)
        expect(solidBounds((second.solid as Solid).positions)[k]).toBeCloseTo((box[k] + box[k + 3]) / 2 + off, 3)
        // the cut itself is floor, none of it wall
        const bands = new Set(
          Array.from({ length: triangleCount(first.solid as Solid) }, (_, t) => (first.solid as Solid).bands[labelAt(first.solid as Solid, t, 'band')]),
        )
        expect([...bands].filter(Boolean)).toEqual(['floor'])
      }
  })

  it('is turned as is asked for, and its two sides make up the whole', async () => {
    const block = step('block', { shape: 'box', width: 60, height: 40, depth: 30 })
    const turned = (params: Record<string, unknown>) => made([{ id: 'b', name: 'B', route: [block, step('cut-flat', params)] }])
    for (const [tilt, lean] of [
      [30, 0],
      [0, -25],
      [20, 35],
    ]) {
      const [first, second] = await Promise.all(['first', 'second'].map((keep) => turned({ axis: 'up', at: 2, tilt, lean, keep })))
      for (const { solid } of [first, second]) expect(volume(solid).sound).toBe(true)
      expect((volume(first.solid).volume + volume(second.solid).volume) / (60 * 40 * 30)).toBeCloseTo(1, 5)
    }
    // through the middle a turned cut halves a block as well
    const half = await turned({ axis: 'across', tilt: 15, lean: 10, keep: 'first' })
    expect(volume(half.solid).volume).toBeCloseTo((60 * 40 * 30) / 2, 0)
  })

  it('puts pegs on one side and sockets for them in the other, where they have room', async () => {
    const block = step('block', { shape: 'box', width: 80, height: 40, depth: 30 })
    const pegged = (params: Record<string, unknown>) =>
      made([{ id: 'b', name: 'B', route: [block, step('cut-flat', { axis: 'up', keep: 'both', gap: 0.2, ...params })] }])
    const plainCut = volume((await pegged({})).solid)
    for (const tilt of [0, 12]) {
      const { solid, last } = await pegged({ pegs: 3, pegWidth: 6, pegLength: 7, pegClearance: 0.25, tilt })
      expect(last.issues).toEqual([])
      const report = volume(solid)
      expect(report).toMatchObject({ sound: true, parts: 2 })
      // what the sockets take, less what the pegs add
      const [peg, socket] = [Math.PI * 9 * 7.2, Math.PI * 3.25 ** 2 * 7.25]
      if (tilt === 0) expect(report.volume).toBeCloseTo(plainCut.volume + 3 * (peg - socket), -1)
    }
    const none = await pegged({ pegs: 2, pegWidth: 35 })
    expect(none.last.issues).toMatchObject([{ code: 'no-room-for-pegs', field: 'pegWidth' }])
    expect(volume(none.solid).volume).toBeCloseTo(plainCut.volume, 6)
  })

  it('says when it lies beside the piece', async () => {
    expect((await cut({ axis: 'across', at: 41 })).last.issues).toMatchObject([{ code: 'misses', field: 'at', message: expect.stringContaining('40 mm') }])
  })
})
