import { readFileSync } from 'node:fs'
import { encode as encodePng } from 'fast-png'
import fc from 'fast-check'
import { encode as encodeJpeg } from 'jpeg-js'
import { beforeAll, describe, expect, it } from 'vitest'
import { assetSource } from '../../../cli/io'
import { readWebp } from '../../../cli/webp'
import { assets, wordRoute } from '../../../test/helpers'
import { checkMesh } from '../../check/check'
import type { Piece } from '../../document/schema'
import { hashBytes } from '../../cache/hash'
import { evaluateRoute } from '../../evaluate/route'
import { FormatError } from '../../format/mesh-data'
import { readPicture } from '../../format/picture'
import { loadManifold } from '../../kernel/manifold'
import { unitePaths } from '../../outline/clip'
import { bordersOf, curveBounds, orientedPaths, windsAbout } from '../../outline/areas'
import { flattenPath } from '../../outline/flatten'
import type { NodePath } from '../../outline/nodes'
import { type Outline, placedPaths } from '../../outline/outline'
import { type Path, pathArea } from '../../outline/path'
import type { Solid } from '../../solid/solid'
import { anchorAt } from './extend/anchors'
import { readTouches, writeTouches } from './smooth/touches'
import { GONE } from '../../document/letters'
import { editableShapes, textOf } from '../../outline/letter-shapes'
import { within } from '../../../test/within'

beforeAll(async () => {
  await loadManifold()
})

const step = (kind: string, params: Record<string, unknown>) => ({ id: `${kind}-1`, kind, on: true, params })
const sizeOf = (paths: readonly Path[]) => paths.reduce((sum, path) => sum + pathArea(path), 0)
const areaOf = (o: Outline) => sizeOf(unitePaths(o.regions.flatMap(orientedPaths)))
const run = (route: Parameters<typeof evaluateRoute>[0], more: Partial<Parameters<typeof evaluateRoute>[1]> = {}) => evaluateRoute(route, { assets, ...more })
async function outlineOf(...args: Parameters<typeof run>): Promise<Outline> {
  const report = await run(...args)
  const fault = report.steps.flatMap((s) => s.issues).find((i) => i.severity === 'failed')
  if (fault) throw new Error(fault.message)
  return report.value as Outline
}
const issuesOf = async (...args: Parameters<typeof run>) => (await run(...args)).steps.flatMap((s) => s.issues)
const isSound = async (route: Parameters<typeof evaluateRoute>[0], more = {}) => {
  const { value } = await run([...route, step('extrude', { front: { profile: 'chamfer', inset: 0.4, height: 0.4 } })], more)
  return checkMesh(value as Solid).sound
}

const ring = (x: number, y: number, r: number, id: string, layer = 'drawing', turned = false) => {
  const k = 0.5523 * r
  const nodes = [
    { x: x + r, y, in: [0, -k] as [number, number], out: [0, k] as [number, number] },
    { x, y: y + r, in: [k, 0] as [number, number], out: [-k, 0] as [number, number] },
    { x: x - r, y, in: [0, k] as [number, number], out: [0, -k] as [number, number] },
    { x, y: y - r, in: [-k, 0] as [number, number], out: [k, 0] as [number, number] },
  ]
  return { id, layer, width: 0, closed: true, nodes: turned ? nodes.map((n) => ({ ...n, in: n.out, out: n.in })).reverse() : nodes }
}
const box = (x0: number, y0: number, x1: number, y1: number, id = 'box') => ({
  id,
  layer: 'drawing',
  width: 0,
  closed: true,
  nodes: [
    { x: x0, y: y0 },
    { x: x1, y: y0 },
    { x: x1, y: y1 },
    { x: x0, y: y1 },
  ],
})

describe('Drawing', () => {
  it('takes what lies within for holes and what overlaps for one area, whichever way it was drawn', async () => {
    for (const turned of [false, true]) {
      const o = await outlineOf([
        step('drawing', { shapes: [ring(0, 0, 20, 'a'), ring(0, 0, 10, 'b', 'drawing', turned), ring(0, 0, 4, 'c'), ring(18, 0, 9, 'd', 'drawing', turned)] }),
      ])
      const alone = await outlineOf([step('drawing', { shapes: [ring(0, 0, 20, 'a'), ring(18, 0, 9, 'd')] })])
      const disc = (r: number) => Math.PI * r * r
      expect(areaOf(o) / (areaOf(alone) - disc(10) + disc(4))).toBeCloseTo(1, 2)
    }
    expect(await isSound([step('drawing', { shapes: [ring(0, 0, 20, 'a'), ring(0, 0, 10, 'b'), ring(18, 0, 9, 'd')] })])).toBe(true)
  })

  it('keeps open lines as strokes and says so; a width makes areas of them', async () => {
    const line = {
      id: 'l',
      layer: 'drawing',
      closed: false,
      nodes: [
        { x: 0, y: 0 },
        { x: 30, y: 0 },
      ],
    }
    expect((await outlineOf([step('drawing', { shapes: [{ ...line, width: 0 }] })])).strokes.length).toBe(1)
    // an open line is nothing wrong in itself: what cannot form it says so
    expect(await issuesOf([step('drawing', { shapes: [{ ...line, width: 0 }] })])).toEqual([])
    const square = {
      ...line,
      id: 'square',
      closed: true,
      width: 0,
      nodes: [
        { x: 0, y: 0 },
        { x: 20, y: 0 },
        { x: 20, y: 20 },
        { x: 0, y: 20 },
      ],
    }
    expect(await issuesOf([step('drawing', { shapes: [{ ...line, width: 0 }, square] }), step('extrude', {})])).toMatchObject([
      { code: 'open-strokes', severity: 'warning' },
    ])
    expect(await issuesOf([step('drawing', { shapes: [{ ...line, width: 0 }] }), step('sweep', { width: 1, height: 1 })])).toEqual([])
    const wide = await outlineOf([step('drawing', { shapes: [{ ...line, width: 4 }] })])
    expect(areaOf(wide)).toBeCloseTo(120 + Math.PI * 4, 0)
    // lines that cross each other and an outline are one area with it
    const cross = {
      ...line,
      id: 'c',
      width: 3,
      nodes: [
        { x: 5, y: -10 },
        { x: 12, y: 12 },
      ],
    }
    const all = [step('drawing', { shapes: [{ ...line, width: 4 }, cross, ring(28, 0, 9, 'r')] })]
    expect((await outlineOf(all)).regions.length).toBe(1)
    expect(await isSound(all)).toBe(true)
    expect(await issuesOf([step('drawing', {})])).toMatchObject([{ code: 'nothing-drawn' }])
  })
})

describe('Redraw', () => {
  async function redrawn(text: string, letter: string) {
    const route = wordRoute(text, 'archivo-bold').slice(0, 1)
    const outline = await outlineOf(route)
    const shape = editableShapes(outline).find((s) => s.text === letter)
    if (!shape) throw new Error('no such letter')
    // the first node drawn far up: a spike on the letter
    const paths = shape.paths.map((path, p) => ({ ...path, nodes: path.nodes.map((n, i) => (p === 0 && i === 0 ? { ...n, y: n.y + 70 } : n)) }))
    return { outline, shape, edits: { of: textOf(outline), list: [{ at: shape.at, text: letter, base: shape.paths, paths }] } }
  }
  const tallest = (o: Outline) => curveBounds(placedPaths(o))[3]

  it('changes one letter’s outline; the others and the words stay', async () => {
    const { outline, edits, shape } = await redrawn('Quay', 'u')
    const after = await outlineOf([wordRoute('Quay', 'archivo-bold')[0], step('redraw', { edits })])
    expect(tallest(after)).toBeGreaterThan(tallest(outline) + 5)
    expect(after.letters).toEqual(outline.letters)
    const others = (o: Outline) =>
      editableShapes(o)
        .filter((s) => s.at !== shape.at)
        .map((s) => s.paths)
    expect(others(after)).toEqual(others(outline))
    expect(await isSound([wordRoute('Quay', 'archivo-bold')[0], step('redraw', { edits })])).toBe(true)
  })

  it('goes with its letter through typing, size, place and turn; another face sets it aside', async () => {
    const { edits } = await redrawn('Tern', 'n')
    const plainTop = async (text: string, more = {}) => tallest(await outlineOf([wordRoute(text, 'archivo-bold', more)[0]]))
    for (const [text, more] of [
      ['Terns', {}],
      ['A Tern', {}],
      ['Lantern', {}],
      ['Tern', { size: 80 }],
      ['Tern', { tracking: 40 }],
    ] as const) {
      const route = [wordRoute(text, 'archivo-bold', more)[0], step('redraw', { edits })]
      expect(await issuesOf(route), text).toEqual([])
      expect(tallest(await outlineOf(route)), text).toBeGreaterThan(await plainTop(text, more))
    }
    const turned = [wordRoute('Tern', 'archivo-bold', { layout: 'arc', sweep: 90, radius: 80 })[0], step('redraw', { edits })]
    expect(await issuesOf(turned)).toEqual([])
    expect(await issuesOf([wordRoute('Tern', 'abril-fatface')[0], step('redraw', { edits })])).toMatchObject([
      { code: 'set-aside', message: expect.stringContaining('“n” (it has another shape now)') },
    ])
    // one that waits without a place is not laid on another letter of its kind by itself
    const waiting = { ...edits, list: edits.list.map((e) => ({ ...e, at: -1 })) }
    const unused = [wordRoute('Tern', 'archivo-bold')[0], step('redraw', { edits: waiting })]
    expect(await issuesOf(unused)).toMatchObject([{ code: 'set-aside' }])
    expect(tallest(await outlineOf(unused))).toBe(await plainTop('Tern'))
    expect(await issuesOf([wordRoute('Te', 'archivo-bold')[0], step('redraw', { edits })])).toMatchObject([
      { code: 'set-aside', message: expect.stringContaining('“n” (the letter is gone)') },
    ])
  })

  it('works on shapes that are no letters as well', async () => {
    const source = step('drawing', { shapes: [ring(0, 0, 20, 'a'), ring(60, 0, 20, 'b')] })
    const outline = await outlineOf([source])
    const shape = editableShapes(outline)[1]
    const edits = { of: '', list: [{ at: -1, text: '', base: shape.paths, paths: [box(50, -10, 70, 10)] }] }
    expect(areaOf(await outlineOf([source, step('redraw', { edits })]))).toBeCloseTo(areaOf(outline) - Math.PI * 400 + 400, -1)
  })
})

describe('Extend', () => {
  async function limbed(text: string, blend: number, more: Record<string, unknown> = {}) {
    const outline = await outlineOf(wordRoute(text, 'archivo-bold').slice(0, 1))
    const [x0, y0, x1] = curveBounds(placedPaths(outline))
    const a = anchorAt(editableShapes(outline), x0 + 8, y0, 30)
    const b = anchorAt(editableShapes(outline), x1 - 4, y0, 30)
    const line: NodePath = {
      closed: false,
      nodes: [
        { x: a.x, y: a.y, out: [0, -20] },
        { x: b.x, y: b.y, in: [0, -20] },
      ],
    }
    const { at: fromAt, contour: c0, share: s0 } = a
    const { at: toAt, contour: c1, share: s1 } = b
    const limb = { from: { at: fromAt, contour: c0, share: s0 }, to: { at: toAt, contour: c1, share: s1 }, line, width: 4, endWidth: 3, blend, ...more }
    return { outline, limbs: { of: textOf(outline), list: [limb] } }
  }

  it('makes one solid of the letters it ties, without overlaps or spikes', async () => {
    for (const blend of [0, 3]) {
      const { outline, limbs } = await limbed('HI', blend)
      const route = [wordRoute('HI', 'archivo-bold')[0], step('extend', { limbs })]
      const after = await outlineOf(route)
      expect(outline.regions.length).toBe(2)
      expect(after.regions.length).toBe(1)
      // one outer border and no slits
      expect(bordersOf(after.regions[0]).filter((p) => pathArea(p) > 0).length).toBe(1)
      expect(areaOf(after)).toBeGreaterThan(areaOf(outline) + 4 * 15)
      expect(await isSound(route)).toBe(true)
    }
    const [sharp, round] = [await limbed('HI', 0), await limbed('HI', 3)]
    const size = async (limbs: unknown) => areaOf(await outlineOf([wordRoute('HI', 'archivo-bold')[0], step('extend', { limbs })]))
    expect(await size(round.limbs)).toBeGreaterThan((await size(sharp.limbs)) + 1)
  })

  it('a limb wider than a stem it meets does not stick out of its far side', async () => {
    const { outline, limbs } = await limbed('HI', 0, { width: 30, endWidth: 3 })
    const [x0, , , y1] = curveBounds(placedPaths(outline))
    const after = await outlineOf([wordRoute('HI', 'archivo-bold')[0], step('extend', { limbs })])
    expect(curveBounds(placedPaths(after))[3]).toBeCloseTo(y1, 1)
    expect(curveBounds(placedPaths(after))[0]).toBeGreaterThan(x0 - 16)
  })

  it('goes along when letters move, and is set aside while one is gone', async () => {
    const { limbs } = await limbed('HI', 1)
    const moved = [wordRoute('HOI', 'archivo-bold')[0], step('extend', { limbs })]
    expect(await issuesOf(moved)).toEqual([])
    expect((await outlineOf(moved)).regions.length).toBeLessThan(3)
    expect(await isSound(moved)).toBe(true)
    expect(await issuesOf([wordRoute('H', 'archivo-bold')[0], step('extend', { limbs })])).toMatchObject([{ code: 'set-aside' }])
    // an end whose letter was gone when the list was written anew stays aside, and is not taken for one in the plane
    const lost = { of: 'H', list: limbs.list.map((l) => ({ ...l, to: { ...l.to, at: GONE } })) }
    expect(await issuesOf([wordRoute('H', 'archivo-bold')[0], step('extend', { limbs: lost })])).toMatchObject([{ code: 'set-aside' }])
  })

  it('finds the nearest place on a letter’s outline', async () => {
    const outline = await outlineOf(wordRoute('O', 'archivo-bold').slice(0, 1))
    fc.assert(
      fc.property(fc.double({ min: -30, max: 30, noNaN: true }), fc.double({ min: -10, max: 50, noNaN: true }), (x, y) => {
        const a = anchorAt(editableShapes(outline), x, y, 1000)
        let least = Infinity
        for (const path of placedPaths(outline)) {
          const { xy } = flattenPath(path, { tolerance: 0.002, maxTurn: 1 })
          for (let i = 0; i < xy.length; i += 2) least = Math.min(least, Math.hypot(xy[i] - x, xy[i + 1] - y))
        }
        expect(Math.hypot(a.x - x, a.y - y)).toBeLessThan(least + 0.05)
      }),
      { numRuns: 40 },
    )
  })
})

describe('Smooth', () => {
  // a disc whose border wobbles by half a millimetre
  const wobbly = { ...box(0, 0, 1, 1, 'w'), nodes: Array.from({ length: 180 }, (_, i) => {
    const a = (i * Math.PI) / 90
    const r = 30 + 0.5 * Math.cos(15 * a)
    return { x: r * Math.cos(a), y: r * Math.sin(a) }
  }) } // biome-ignore format: one shape
  const spread = (o: Outline) => {
    const radii = placedPaths(o).flatMap((path) => {
      const { xy } = flattenPath(path, { tolerance: 0.01, maxTurn: 4 })
      return Array.from({ length: xy.length / 2 }, (_, i) => [Math.hypot(xy[2 * i], xy[2 * i + 1]), Math.atan2(xy[2 * i + 1], xy[2 * i])] as const)
    })
    return radii
  }

  it('takes bumps away and keeps the size of what is larger', async () => {
    const after = await outlineOf([step('drawing', { shapes: [wobbly] }), step('smooth', { amount: 14, corners: 180 })])
    for (const [r] of spread(after)) expect(Math.abs(r - 30)).toBeLessThan(0.15)
  })

  it('acts only where it was brushed', async () => {
    const touches = { of: '', list: [{ at: -1, x: 30, y: 0, r: 25 }] }
    const after = await outlineOf([step('drawing', { shapes: [wobbly] }), step('smooth', { where: 'brushed', amount: 14, touches })])
    const far = spread(after).filter(([, a]) => Math.abs(a) > 2)
    const near = spread(after).filter(([, a]) => Math.abs(a) < 0.25)
    expect(Math.max(...far.map(([r]) => Math.abs(r - 30)))).toBeGreaterThan(0.45)
    expect(Math.max(...near.map(([r]) => Math.abs(r - 30)))).toBeLessThan(0.2)
  })

  it('takes its touches from a file of the project, as well as from the values of older documents, and says what is wrong with one', async () => {
    const list = [{ at: 1, x: 0, y: 0, r: 9 }]
    const bytes = writeTouches(list)
    expect(readTouches(bytes)).toEqual(list)
    const sha256 = hashBytes(bytes)
    const smoothed = (touches: object, files = new Map([[sha256, bytes]])) =>
      run([wordRoute('HE', 'archivo-bold')[0], step('smooth', { where: 'brushed', amount: 4, touches })], { assets: assetSource(new Map(), files) })
    const [ofFile, ofValues] = [await smoothed({ of: 'HE', file: { sha256, name: 'Brushed' } }), await smoothed({ of: 'HE', list })]
    expect(ofFile.value).toEqual(ofValues.value)
    expect(ofFile.steps[1].key).not.toBe(ofValues.steps[1].key)
    const broken = new TextEncoder().encode('{"kelvar":"touches","touches":[{"at":"x"}]}')
    const code = async (files: Map<string, Uint8Array<ArrayBuffer>>) =>
      (await smoothed({ of: 'HE', file: { sha256, name: 'Brushed' } }, files)).steps[1].issues[0].code
    expect(await code(new Map([[sha256, broken]]))).toBe('unreadable')
    expect(await code(new Map())).toBe('file-missing')
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 200 }), (noise) => {
        expect(() => readTouches(noise)).toThrow(FormatError)
      }),
    )
  })

  it('keeps corners that are asked for, and goes with a letter that it was brushed on', async () => {
    const before = await outlineOf(wordRoute('H', 'archivo-bold').slice(0, 1))
    const kept = await outlineOf([wordRoute('H', 'archivo-bold')[0], step('smooth', { amount: 2, corners: 50 })])
    expect(areaOf(kept)).toBeCloseTo(areaOf(before), 0)
    // the lower left corner, square before
    const [x0, y0] = curveBounds(placedPaths(before))
    const fromCorner = (o: Outline) =>
      Math.min(
        ...placedPaths(o).flatMap((p) => {
          const { xy } = flattenPath(p, { tolerance: 0.005, maxTurn: 3 })
          return Array.from({ length: xy.length / 2 }, (_, i) => Math.hypot(xy[2 * i] - x0, xy[2 * i + 1] - y0))
        }),
      )
    expect(fromCorner(kept)).toBeLessThan(0.02)
    const rounded = await outlineOf([wordRoute('H', 'archivo-bold')[0], step('smooth', { amount: 2, corners: 180 })])
    expect(fromCorner(rounded)).toBeGreaterThan(0.4)
    // what corners lose the sides make up for: letters do not grow thin
    expect(Math.abs(areaOf(rounded) / areaOf(before) - 1)).toBeLessThan(0.002)
    const touches = { of: 'HE', list: [{ at: 1, x: 0, y: 0, r: 9 }] }
    const corner = async (text: string) => {
      const [plain, brushed] = [
        await outlineOf([wordRoute(text, 'archivo-bold')[0]]),
        await outlineOf([wordRoute(text, 'archivo-bold')[0], step('smooth', { where: 'brushed', amount: 4, touches })]),
      ]
      return editableShapes(plain).map((s, i) => JSON.stringify(s.paths) !== JSON.stringify(editableShapes(brushed)[i].paths) && s.text)
    }
    expect(await corner('HE')).toEqual([false, 'E'])
    expect(await corner('HOE')).toEqual([false, false, 'E'])
    expect(await issuesOf([wordRoute('HI', 'archivo-bold')[0], step('smooth', { where: 'brushed', touches })])).toMatchObject([{ code: 'set-aside' }])
  })
})

describe('Combine', () => {
  const plate: Piece = { id: 'plate', name: 'Plate', route: [step('drawing', { shapes: [box(-80, -20, 80, 60)] })] }
  const words: Piece = { id: 'words', name: 'Words', route: [...wordRoute('Tern', 'archivo-bold').slice(0, 1)] }
  const pieces = [plate, words]
  const combined = (how: string, more = {}) =>
    outlineOf([...plate.route, step('combine', { how, other: { piece: 'words' }, ...more })], { pieces, piece: 'plate' })

  it('adds up: union, cut-out, overlap and exclude by their areas, exactly', async () => {
    const [a, b] = [areaOf(await outlineOf(plate.route)), areaOf(await outlineOf(words.route))]
    expect(areaOf(await combined('cut-out'))).toBeCloseTo(a - b, 4)
    expect(areaOf(await combined('overlap'))).toBeCloseTo(b, 4)
    expect(areaOf(await combined('union'))).toBeCloseTo(a, 4)
    expect(areaOf(await combined('exclude'))).toBeCloseTo(a - b, 4)
    // half off the plate
    const over = { x: 80, how: 'overlap' }
    const both = areaOf(await combined('overlap', over))
    expect(areaOf(await combined('union', { x: 80 }))).toBeCloseTo(a + b - both, 3)
    expect(areaOf(await combined('exclude', { x: 80 }))).toBeCloseTo(a + b - 2 * both, 3)
    expect(await isSound([...plate.route, step('combine', { how: 'cut-out', other: { piece: 'words' } })], { pieces, piece: 'plate' })).toBe(true)
  })

  it('follows the other piece when it changes', async () => {
    const longer = { ...words, route: wordRoute('Tern Quay', 'archivo-bold').slice(0, 1) }
    const route = [...plate.route, step('combine', { how: 'cut-out', other: { piece: 'words' } })]
    const [first, second] = [await run(route, { pieces, piece: 'plate' }), await run(route, { pieces: [plate, longer], piece: 'plate' })]
    expect(first.key).not.toBe(second.key)
    expect(areaOf(second.value as Outline)).toBeLessThan(areaOf(first.value as Outline))
  })

  it('refuses a ring of pieces with their names, a piece that is gone, and one that fails', async () => {
    const a: Piece = { id: 'a', name: 'Sign', route: [...plate.route, step('combine', { other: { piece: 'b' } })] }
    const b: Piece = { id: 'b', name: 'Badge', route: [...words.route, step('combine', { other: { piece: 'a' } })] }
    expect(await issuesOf(a.route, { pieces: [a, b], piece: 'a' })).toMatchObject([
      { code: 'piece-failed', message: expect.stringMatching(/“Badge”.*“Sign” is made with “Badge” is made with “Sign”/) },
    ])
    expect(await issuesOf(a.route, { pieces: [a], piece: 'a' })).toMatchObject([{ code: 'piece-gone' }])
    const self = [...plate.route, step('combine', { other: { piece: 'plate' } })]
    expect(await issuesOf(self, { pieces: [{ ...plate, route: self }], piece: 'plate' })).toMatchObject([
      { code: 'ring', message: expect.stringContaining('“Plate” is made with “Plate”') },
    ])
    expect(await issuesOf([...plate.route, step('combine', {})], { pieces, piece: 'plate' })).toMatchObject([{ code: 'no-piece' }])
    expect(await issuesOf([...plate.route, step('combine', { how: 'overlap', other: { piece: 'words' }, x: 900 })], { pieces, piece: 'plate' })).toMatchObject([
      { code: 'nothing-left' },
    ])
  })

  it('combines an outline’s own layers', async () => {
    const layers = [
      { id: 'one', name: 'One' },
      { id: 'two', name: 'Two' },
    ]
    const source = step('drawing', { layers, overlaps: 'keep', shapes: [ring(0, 0, 20, 'a', 'one'), ring(15, 0, 20, 'b', 'two')] })
    // cut to what is seen, the two cover what their union covers, and none of it twice
    const seen = await outlineOf([{ ...source, params: { ...source.params, overlaps: 'visible', gap: 0 } }])
    expect(seen.regions.reduce((sum, r) => sum + areaOf({ ...seen, regions: [r] }), 0)).toBeCloseTo(areaOf(seen), 4)
    const own = (how: string) => outlineOf([source, step('combine', { how, with: 'layers' })])
    const disc = areaOf(await outlineOf([step('drawing', { layers, shapes: [ring(0, 0, 20, 'a', 'one')] })]))
    const both = areaOf(await own('overlap'))
    expect(areaOf(await own('union'))).toBeCloseTo(2 * disc - both, 4)
    expect(areaOf(await own('cut-out'))).toBeCloseTo(disc - both, 4)
  })
})

describe('Slice along drawn lines', () => {
  const across: NodePath = {
    closed: false,
    nodes: [
      { x: -60, y: 10, out: [40, 25] },
      { x: 60, y: 22, in: [-40, -25] },
    ],
  }
  const upright: NodePath = {
    closed: false,
    nodes: [
      { x: 3, y: -10 },
      { x: 8, y: 60 },
    ],
  }
  it('keeps the whole area, each side a layer, and the words', async () => {
    const route = wordRoute('Quay', 'abril-fatface').slice(0, 1)
    const before = await outlineOf(route)
    const after = await outlineOf([...route, step('slice', { cut: 'drawn', gap: 0, lines: [across, upright] })])
    expect(areaOf(after) / areaOf(before)).toBeCloseTo(1, 6)
    expect(after.layers.map((l) => l.name)).toEqual(['Lettering · 1', 'Lettering · 2', 'Lettering · 3', 'Lettering · 4'])
    expect(await isSound([...route, step('slice', { cut: 'drawn', gap: 0.8, lines: [across, upright] })])).toBe(true)
    expect(await issuesOf([...route, step('slice', { cut: 'drawn' })])).toMatchObject([{ code: 'no-lines' }])
  })
})

describe('Warp by corners and between lines', () => {
  const route = wordRoute('Tern', 'archivo-bold').slice(0, 1)
  it('puts the box’s corners where they were drawn', async () => {
    const plate = [step('drawing', { shapes: [box(0, 0, 100, 40)] })]
    const corners = [
      [0.1, -0.2],
      [1.2, 0.1],
      [0.9, 1.3],
      [-0.05, 0.9],
    ]
    const after = await outlineOf([...plate, step('warp', { shape: 'corners', corners })])
    const points = placedPaths(after)
      .flatMap((p) => flattenPath(p, { tolerance: 0.01 }).xy)
      .flatMap((xy) => Array.from({ length: xy.length / 2 }, (_, i) => [xy[2 * i], xy[2 * i + 1]]))
    for (const [u, v] of corners) expect(Math.min(...points.map(([x, y]) => Math.hypot(x - 100 * u, y - 40 * v)))).toBeLessThan(0.05)
    // straight sides stay straight: the area is that of the four-sided figure
    const quad = corners.map(([u, v]) => [100 * u, 40 * v])
    const expected = quad.reduce((sum, [x, y], i) => sum + (x * quad[(i + 1) % 4][1] - y * quad[(i + 1) % 4][0]) / 2, 0)
    expect(areaOf(after)).toBeCloseTo(expected, -0.3)
    expect(await isSound([...route, step('warp', { shape: 'corners' })])).toBe(true)
    expect(
      await issuesOf([
        ...route,
        step('warp', {
          shape: 'corners',
          corners: [
            [0, 0],
            [1, 1],
            [1, 0],
            [0, 1],
          ],
        }),
      ]),
    ).toMatchObject([{ code: 'corners-cross' }])
  })

  it('lies between its lines, and warns where they cross', async () => {
    const top = {
      closed: false,
      nodes: [
        { x: 0, y: 1, out: [0.3, 0.8] },
        { x: 1, y: 1, in: [-0.3, 0.8] },
      ],
    }
    const before = curveBounds(placedPaths(await outlineOf(route)))
    const after = curveBounds(placedPaths(await outlineOf([...route, step('warp', { shape: 'envelope', top })])))
    expect(after[1]).toBeCloseTo(before[1], 0)
    expect(after[3]).toBeGreaterThan(before[3] + 5)
    expect(await isSound([...route, step('warp', { shape: 'envelope', top })])).toBe(true)
    const crossed = {
      closed: false,
      nodes: [
        { x: 0, y: -1 },
        { x: 1, y: 1 },
      ],
    }
    expect(await issuesOf([...route, step('warp', { shape: 'envelope', top: crossed })])).toMatchObject([{ code: 'folded', severity: 'warning' }])
  })
})

describe('Traced picture', () => {
  const [w, h] = [160, 120]
  /** a dark ring and a red square on white, smooth at the borders by four by four samples */
  function pixels(): Uint8Array {
    const rgba = new Uint8Array(4 * w * h)
    for (let y = 0; y < h; y++) {
      for (let x = 0; x < w; x++) {
        const sum = [0, 0, 0]
        for (let i = 0; i < 16; i++) {
          const [u, v] = [x + (i % 4) / 4 + 0.125, y + Math.floor(i / 4) / 4 + 0.125]
          const r = Math.hypot(u - 50, v - 60)
          const c = r < 40 && r > 20 ? [20, 30, 40] : u > 105 && u < 145 && v > 40 && v < 80 ? [200, 40, 30] : [255, 255, 255]
          for (let k = 0; k < 3; k++) sum[k] += c[k] / 16
        }
        rgba.set([...sum.map(Math.round), 255], 4 * (y * w + x))
      }
    }
    return rgba
  }
  const png = encodePng({ width: w, height: h, data: pixels(), channels: 4, depth: 8 })
  const sha256 = hashBytes(png)
  const withPicture = { assets: assetSource(new Map(), new Map([[sha256, png]])) }
  const traced = (params: Record<string, unknown>) => [step('traced-picture', { file: { sha256, name: 'ring.png' }, width: 160, ...params })]

  it('follows light and dark to a fraction of a pixel', async () => {
    const o = await outlineOf(traced({ smoothness: 20, threshold: 58 }), withPicture)
    const expected = Math.PI * (1600 - 400) + 1600
    expect(Math.abs(areaOf(o) - expected) / expected).toBeLessThan(0.01)
    expect(o.regions.length).toBe(2)
    expect(await isSound(traced({}), withPicture)).toBe(true)
    const light = await outlineOf(traced({ invert: true, smoothness: 20, threshold: 58 }), withPicture)
    expect(areaOf(light) / (w * h - expected)).toBeCloseTo(1, 1)
  })

  it('finds the colours, leaves the ground out, and drops speckles', async () => {
    const o = await outlineOf(traced({ by: 'colours', colours: 3, smoothness: 20, speckle: 4 }), withPicture)
    expect(o.layers.length).toBe(2)
    const [dark, red] = o.layers.map((l) => [1, 3, 5].map((i) => Number.parseInt((l.colour as string).slice(i, i + 2), 16)))
    expect(Math.hypot(dark[0] - 20, dark[1] - 30, dark[2] - 40)).toBeLessThan(40)
    expect(Math.hypot(red[0] - 200, red[1] - 40, red[2] - 30)).toBeLessThan(40)
    const square = areaOf({ ...o, regions: o.regions.filter((r) => r.layer === 1) })
    expect(Math.abs(square - 1600) / 1600).toBeLessThan(0.03)
    expect((await outlineOf(traced({ width: 80, speckle: 350, invert: true }), withPicture)).regions.length).toBe(1)
  })

  it('reads PNG, JPEG and WebP to the same shape', async () => {
    const jpeg = new Uint8Array(encodeJpeg({ width: w, height: h, data: pixels() }, 95).data)
    const webp = new Uint8Array(readFileSync(new URL('../../../test/ring.webp', import.meta.url)))
    for (const bytes of [png, jpeg, webp]) {
      const { width, height, rgba } = await readPicture(bytes, readWebp)
      expect([width, height]).toEqual([w, h])
      const at = (x: number, y: number) => Array.from(rgba.subarray(4 * (y * w + x), 4 * (y * w + x) + 4))
      expect(Math.hypot(...at(50, 90).map((v, i) => v - [20, 30, 40, 255][i]))).toBeLessThan(25)
      expect(Math.hypot(...at(125, 60).map((v, i) => v - [200, 40, 30, 255][i]))).toBeLessThan(40)
      expect(Math.hypot(...at(2, 2).map((v) => v - 255))).toBeLessThan(12)
    }
  })

  it('refuses what is no picture, too large or damaged, whatever is done to it', async () => {
    await expect(readPicture(new TextEncoder().encode('<html>'), readWebp)).rejects.toThrow(/no PNG, JPEG or WebP/)
    const huge = png.slice()
    new DataView(huge.buffer).setUint32(16, 60_000)
    await expect(readPicture(huge, readWebp)).rejects.toThrow(/60000 × 120 pixels/)
    const jpeg = new Uint8Array(encodeJpeg({ width: w, height: h, data: pixels() }, 80).data)
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom(png, jpeg),
        fc.array(fc.tuple(fc.nat(1_000_000), fc.nat(255)), { minLength: 1, maxLength: 12 }),
        fc.nat(1_000_000),
        async (source, changes, cut) => {
          const bytes = source.slice(0, cut % 3 === 0 ? 1 + (cut % source.length) : source.length)
          for (const [at, value] of changes) bytes[at % bytes.length] = value
          await within(2000, async () => {
            try {
              await readPicture(bytes, readWebp)
            } catch (error) {
              expect(error).toBeInstanceOf(FormatError)
            }
          })
        },
      ),
      { numRuns: 300 },
    )
  })
})

it('winds about what it surrounds', () => {
  expect(windsAbout([0, 0, 4, 0, 4, 4, 0, 4], 2, 2)).toBe(true)
  expect(windsAbout([0, 0, 4, 0, 4, 4, 0, 4], 5, 2)).toBe(false)
})
