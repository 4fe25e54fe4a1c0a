import { beforeAll, describe, expect, it } from 'vitest'
import { assets } from '../../../../test/helpers'
import { checkMesh } from '../../../check/check'
import type { Piece, Place, RouteStep } from '../../../document/schema'
import { evaluateRoute } from '../../../evaluate/route'
import { joinSolid } from '../../../join/join'
import { loadManifold } from '../../../kernel/manifold'
import type { Outline } from '../../../outline/outline'
import { regionPolygons } from '../../../outline/polygon'
import type { Solid } from '../../../solid/solid'
import { Memo } from '../../../cache/memo'

const at = (x: number, y: number, z: number, size = 1): Place => ({ position: [x, y, z], turn: [0, 0, 0], size })
const step = (kind: string, params: Record<string, unknown> = {}): RouteStep => ({ id: kind, kind, on: true, params })
const square = (id: string, layer: string, x: number, y: number, side: number) => ({
  id,
  layer,
  closed: true,
  nodes: [
    { x, y },
    { x: x + side, y },
    { x: x + side, y: y + side },
    { x, y: y + side },
  ],
})
/** A large square with a small one over its middle and one beside it: red, blue, red. */
const drawn = (place?: Place, overlaps = 'keep'): Piece => ({
  id: 'drawn',
  name: 'Drawn',
  ...(place ? { place } : {}),
  route: [
    step('drawing', {
      layers: [
        { id: 'ground', name: 'Ground', colour: '#aa2211' },
        { id: 'spot', name: 'Spot', colour: '#2233aa' },
        { id: 'beside', name: 'Beside', colour: '#aa2211' },
      ],
      shapes: [square('a', 'ground', 0, 0, 20), square('b', 'spot', 6, 6, 8), square('c', 'beside', 20, 0, 10)],
      overlaps,
    }),
  ],
})
const from = (params: Record<string, unknown> = {}, ...more: RouteStep[]): Piece => ({
  id: 'own',
  name: 'Own',
  route: [step('piece-outline', { of: { piece: 'drawn' }, ...params }), ...more],
})

const made = async (piece: Piece, others: readonly Piece[]) => {
  const report = await evaluateRoute(piece.route, { assets, memo: new Memo(), pieces: [piece, ...others], piece: piece.id, place: piece.place })
  return { value: report.value, steps: report.steps, last: report.steps[report.steps.length - 1] }
}
const areaOf = (outline: Outline) =>
  outline.regions.reduce((sum, region) => {
    const { rings } = regionPolygons(region, 0.001, outline.lattice)
    // holes run the other way round
    return sum + rings.reduce((all, { xy }) => all + shoelace(xy), 0)
  }, 0)
const shoelace = (xy: ArrayLike<number>) => {
  let sum = 0
  for (let i = 0; i < xy.length; i += 2) {
    const j = (i + 2) % xy.length
    sum += (xy[i] * xy[j + 1] - xy[j] * xy[i + 1]) / 2
  }
  return sum
}
const outline = async (params: Record<string, unknown>, place?: Place, own?: Place) => {
  const { value, last } = await made({ ...from(params), ...(own ? { place: own } : {}) }, [drawn(place)])
  if (value?.kind !== 'outline') throw new Error(JSON.stringify(last.issues))
  return { outline: value, last }
}

beforeAll(() => loadManifold())

describe('the outline of another piece', () => {
  it('is taken whole, without what lies under others, or as it is drawn', async () => {
    const seen = await outline({})
    expect(seen.outline.layers.map(({ id }) => id)).toEqual(['ground', 'spot', 'beside'])
    expect(areaOf(seen.outline)).toBeCloseTo(400 + 100, 3)
    expect(areaOf((await outline({ visible: false })).outline)).toBeCloseTo(400 + 64 + 100, 3)
  })

  it('is taken by its layers, with air to what lies over them', async () => {
    expect(areaOf((await outline({ layers: ['ground'] })).outline)).toBeCloseTo(400 - 64, 3)
    expect(areaOf((await outline({ layers: ['spot'], gap: 0.5 })).outline)).toBeCloseTo(64, 3)
    const { outline: both, last } = await outline({ layers: ['beside', 'ground'], gap: 0.5 })
    expect(both.layers.map(({ id, colour }) => [id, colour])).toEqual([
      ['ground', '#aa2211'],
      ['beside', '#aa2211'],
    ])
    expect(new Set(both.regions.map(({ layer }) => layer))).toEqual(new Set([0, 1]))
    // the spot with half a millimetre all round, and half a millimetre along the side that touches
    expect(areaOf(both)).toBeCloseTo(400 - 81 - 0.5 * 10.5 + 100, 1)
    // the step's own control is told of all
    expect(last.marks?.layers?.map(({ name }) => name)).toEqual(['Ground', 'Spot', 'Beside'])
  })

  it('is as large as it stands in the project', async () => {
    expect(areaOf((await outline({ layers: ['spot'] }, at(3, 4, 5, 2), at(0, 0, 0, 0.5))).outline)).toBeCloseTo(64 * 16, 2)
  })

  it('says what is missing, and takes it again when it comes back', async () => {
    expect((await made(from({ of: { piece: '' } }), [drawn()])).last.issues).toMatchObject([{ code: 'no-piece', field: 'of' }])
    const { outline: left, last } = await outline({ layers: ['spot', 'gone'] })
    expect(areaOf(left)).toBeCloseTo(64, 3)
    expect(last.issues).toMatchObject([{ code: 'layers-gone', message: expect.stringContaining('“gone”') }])
    const none = await made(from({ layers: ['gone'] }), [drawn()])
    expect(none.last.issues).toMatchObject([{ code: 'nothing-taken', remedy: expect.stringMatching(/Pick other layers/) }])
    expect(none.last.marks?.layers).toHaveLength(3)
  })

  it('fits as one insert for each colour into one pocket, beside one another', async () => {
    const words = drawn(at(-15, -10, 0), 'visible')
    const body: Piece = {
      id: 'body',
      name: 'Body',
      route: [
        step('block', { shape: 'box', width: 60, height: 40, depth: 12 }),
        step('inlay', { words: { piece: 'drawn' }, depth: 4, clearance: 0.2, lead: 0.3, proud: 1 }),
      ],
    }
    const pocket = await made(body, [words])
    if (pocket.value?.kind !== 'solid') throw new Error(JSON.stringify(pocket.last.issues))
    expect(checkMesh(pocket.value).findings).toEqual([])
    expect(pocket.last.marks?.layers?.map(({ colour }) => colour)).toEqual(['#aa2211', '#2233aa', '#aa2211'])
    // the words' origin where they stand, as deep as the pocket is asked to be
    const seat = pocket.last.marks?.seat
    expect(seat).toEqual([-15, -10, 2])
    const inserts: Solid[] = []
    for (const layers of [['ground', 'beside'], ['spot']]) {
      const insert = { ...from({ layers, gap: 0.2 }, step('insert', { pocket: { piece: 'body' } })), place: at(-15, -10, 2) }
      const { value, last } = await made(insert, [words, body])
      if (value?.kind !== 'solid') throw new Error(JSON.stringify(last.issues))
      expect(checkMesh(value).findings).toEqual([])
      inserts.push(value)
    }
    const [x, y, z] = seat as readonly [number, number, number]
    const stands = [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z] as const
    for (const solid of inserts) expect(joinSolid(pocket.value, [{ solid, matrix: stands }], 'overlap')).toMatchObject({ ok: false, why: 'empty' })
    expect(joinSolid(inserts[0], [{ solid: inserts[1], matrix: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0] }], 'overlap')).toMatchObject({ ok: false, why: 'empty' })
    // and they are no smaller than the gaps ask for
    const [red, blue] = inserts.map((solid) => checkMesh(solid).volume)
    expect(blue / (64 * 5)).toBeGreaterThan(0.97)
    expect(blue / (64 * 5)).toBeLessThan(1)
    expect(red / ((400 - 8.4 ** 2 - 0.2 * 10 + 100) * 5)).toBeGreaterThan(0.97)
    expect(red / ((400 - 8.4 ** 2 - 0.2 * 10 + 100) * 5)).toBeLessThan(1)
  })
})
