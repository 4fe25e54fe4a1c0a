import { readFileSync } from 'node:fs'
import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { assetSource } from '../../../cli/io'
import { SHIPPED_FACES } from '../../../fonts/catalogue'
import { assets, FULL, wordRoute } from '../../../test/helpers'
import { checkMesh } from '../../check/check'
import { hashBytes } from '../../cache/hash'
import { evaluateRoute } from '../../evaluate/route'
import { loadManifold } from '../../kernel/manifold'
import { curveBounds, orientedPaths, regionArea } from '../../outline/areas'
import { Area, clipAreas, unitePaths } from '../../outline/clip'
import { ArcLength } from '../../outline/arc-length'
import { type Outline, outlineBounds, placedPaths } from '../../outline/outline'
import { type Path, PathBuilder, pathArea } from '../../outline/path'
import { labelAt, labelOf, type Solid, surfacesOf, triangleCount } from '../../solid/solid'

beforeAll(() => loadManifold())

const sizeOf = (paths: readonly Path[]) => paths.reduce((sum, path) => sum + pathArea(path), 0)
const areaOf = (o: Outline) => o.regions.reduce((sum, region) => sum + sizeOf(unitePaths(orientedPaths(region))), 0)
const step = (kind: string, params: Record<string, unknown>) => ({ id: `${kind}-1`, kind, on: true, params })

async function through(text: string, font: string, ...steps: ReturnType<typeof step>[]) {
  const report = await evaluateRoute([wordRoute(text, font)[0], ...steps], { assets })
  return { outline: report.value as Outline, report, issues: report.steps.flatMap((s) => s.issues) }
}

const markBytes = new Uint8Array(readFileSync(new URL('../../../test/mark.svg', import.meta.url)))
const mark = { sha256: hashBytes(markBytes), name: 'mark.svg' }
const withMark = assetSource(new Map(), new Map([[mark.sha256, markBytes]]))

describe('Slice', () => {
  it('keeps the whole area when the gap is 0, whatever the cuts', async () => {
    const before = areaOf((await through('Tern 8', 'abril-fatface')).outline)
    await fc.assert(
      fc.asyncProperty(
        fc.record({
          cut: fc.constantFrom('straight', 'wave', 'zigzag'),
          count: fc.integer({ min: 1, max: 12 }),
          angle: fc.integer({ min: -90, max: 90 }),
          amplitude: fc.integer({ min: 0, max: 9 }),
          length: fc.integer({ min: 6, max: 60 }),
        }),
        async (params) => {
          const { outline } = await through('Tern 8', 'abril-fatface', step('slice', { ...params, gap: 0 }))
          // exactly, but for cuts that touch an outline without crossing it truly
          expect(Math.abs(areaOf(outline) - before) / before).toBeLessThan(1e-6)
          expect(outline.layers.length).toBeGreaterThan(1)
        },
      ),
      { numRuns: 25 },
    )
  })

  it('makes a layer of every band, the top one first, each of which can be formed and is sound', async () => {
    const { outline } = await through('HH', 'archivo-bold', step('slice', { count: 2, gap: 1 }))
    expect(outline.layers.map((l) => l.name)).toEqual(['Lettering · 1', 'Lettering · 2', 'Lettering · 3'])
    const lowest = outline.regions.map((r) => [r.layer, outlineBounds({ ...outline, regions: [r], strokes: [] })[1]] as const)
    expect(Math.min(...lowest.filter(([l]) => l === 0).map(([, y]) => y))).toBeGreaterThan(Math.max(...lowest.filter(([l]) => l === 2).map(([, y]) => y)))
    const solid = (await evaluateRoute([wordRoute('HQ', 'archivo-bold')[0], step('slice', { cut: 'wave', count: 4 }), step('extrude', {})], { assets }))
      .value as Solid
    expect(checkMesh(solid)).toMatchObject({ sound: true })
    expect(new Set(labelOf(solid, 'layer')).size).toBe(5)
  })

  it('takes nothing away but the gap', async () => {
    const whole = areaOf((await through('H', 'archivo-bold')).outline)
    const cut = areaOf((await through('H', 'archivo-bold', step('slice', { count: 1, gap: 2, angle: 90 }))).outline)
    // an upright cut through the bar of an H
    const bar = await through('H', 'archivo-bold')
    const strip = new PathBuilder(-1, -100)
    for (const [x, y] of [[1, -100], [1, 100], [-1, 100]]) strip.lineTo(x, y) // biome-ignore format: one line
    const expected = sizeOf(clipAreas(regionArea(bar.outline.regions[0]), new Area([strip.build(true)]), 'intersect'))
    expect(whole - cut).toBeCloseTo(expected, 4)
  })
})

describe('Offset', () => {
  it('grows and shrinks by the distance', async () => {
    const [x0, y0, x1, y1] = outlineBounds((await through('H', 'archivo-bold')).outline)
    const grown = outlineBounds((await through('H', 'archivo-bold', step('offset', { distance: 3, join: 'mitre' }))).outline)
    expect(grown).toEqual([expect.closeTo(x0 - 3, 2), expect.closeTo(y0 - 3, 2), expect.closeTo(x1 + 3, 2), expect.closeTo(y1 + 3, 2)])
    const back = await through('H', 'archivo-bold', step('offset', { distance: 2, join: 'round' }), step('offset', { distance: -2, join: 'round' }))
    expect(areaOf(back.outline)).toBeGreaterThanOrEqual(areaOf((await through('H', 'archivo-bold')).outline) - 1)
  })

  it.each(SHIPPED_FACES.filter((_, i) => FULL || i % 4 === 1).map(({ id }) => id))(
    'makes letters of %s that grow into each other one area, which is sound in depth and still in letters',
    async (face) => {
      const grown = await through('Quay', face, step('offset', { distance: 3 }))
      expect(grown.outline.regions.length).toBeLessThan(4)
      const { value } = await evaluateRoute([wordRoute('Quay', face)[0], step('offset', { distance: 3 }), step('extrude', {})], { assets })
      expect(checkMesh(value as Solid)).toMatchObject({ sound: true })
      expect(new Set(labelOf(value as Solid, 'letter'))).toEqual(new Set([0, 1, 2, 3]))
    },
  )

  it('says when parts are too thin, or everything is', async () => {
    const small = wordRoute('HH', 'archivo-bold', { letters: { of: 'HH', list: [{ at: 1, scale: 20 }] } })[0]
    const report = await evaluateRoute([small, step('offset', { distance: -2 })], { assets })
    expect(report.steps[1].issues).toMatchObject([{ code: 'parts-vanished', message: expect.stringContaining('1 of 2') }])
    expect((await through('Hi', 'abril-fatface', step('offset', { distance: -60 }))).issues).toMatchObject([{ code: 'vanished', severity: 'failed' }])
  })
})

describe('Round corners', () => {
  it('takes from outer corners and adds to inner ones what an arc leaves', async () => {
    // an H has eight outer corners and four inner ones, all square
    const whole = areaOf((await through('H', 'archivo-bold')).outline)
    const corner = (r: number) => r * r * (1 - Math.PI / 4)
    const outer = areaOf((await through('H', 'archivo-bold', step('round-corners', { outer: 1 }))).outline)
    expect(whole - outer).toBeCloseTo(8 * corner(1), 1)
    const inner = areaOf((await through('H', 'archivo-bold', step('round-corners', { outer: 0, inner: 1 }))).outline)
    expect(inner - whole).toBeCloseTo(4 * corner(1), 1)
  })

  it('works on fonts whose outlines run either way, gives thin parts what fits, and stays sound', async () => {
    for (const font of ['abril-fatface', 'cinzel-decorative', 'monoton', 'dela-gothic']) {
      for (const radius of [0.5, 4, 400]) {
        const { report, issues } = await through(
          font === 'dela-gothic' ? '港 E8' : 'QuE8k',
          font,
          step('round-corners', { outer: radius, inner: radius }),
          step('extrude', { front: { profile: 'square' } }),
        )
        expect(issues.filter((i) => i.severity === 'failed')).toEqual([])
        expect(checkMesh(report.value as Solid), `${font} ${radius}`).toMatchObject({ sound: true })
      }
    }
  })

  it('leaves smooth curves and an outline without corners alone', async () => {
    const before = (await through('O', 'jost-bold')).outline
    const after = (await through('O', 'jost-bold', step('round-corners', { outer: 3, inner: 3 }))).outline
    expect(after.regions[0].members[0].paths).toEqual(before.regions[0].members[0].paths)
  })
})

describe('Warp', () => {
  it('leaves areas alone where it only shears or bends along', async () => {
    const flat = (await through('HOE', 'archivo-bold')).outline
    for (const params of [
      { shape: 'ripple', amount: 40, waves: 3 },
      { shape: 'swell', amount: 0 },
      { shape: 'perspective', amount: 0 },
    ]) {
      const { outline } = await through('HOE', 'archivo-bold', step('warp', params))
      expect(Math.abs(areaOf(outline) / areaOf(flat) - 1), params.shape).toBeLessThan(2e-3)
    }
    // an arch of the middle line: what it adds above it takes away below
    const { outline } = await through('HIH', 'archivo-bold', step('warp', { shape: 'arch', angle: 90 }))
    expect(Math.abs(areaOf(outline) / areaOf((await through('HIH', 'archivo-bold')).outline) - 1)).toBeLessThan(0.01)
  })

  it.each(['arch', 'ripple', 'swell', 'perspective'])('%s makes outlines that form sound solids', async (shape) => {
    const { report } = await through('Quay & 8', 'abril-fatface', step('warp', { shape, amount: 80, angle: -120 }), step('extrude', {}))
    expect(checkMesh(report.value as Solid)).toMatchObject({ sound: true })
  })
})

describe('letters that come to overlap as their shapes change', () => {
  const solidOf = async (text: string, font: string, ...steps: ReturnType<typeof step>[]) =>
    (await through(text, font, ...steps, step('extrude', {}))).report.value as Solid

  it('are formed as one, and keep their letters', async () => {
    for (const bent of [step('warp', { shape: 'arch', angle: -250 }), step('simplify', { tolerance: 18 })]) {
      const { outline } = await through('gBx8', 'knewave', bent)
      expect(outline.regions.length, bent.kind).toBeLessThan(4)
      const solid = await solidOf('gBx8', 'knewave', bent)
      expect(checkMesh(solid).sound, bent.kind).toBe(true)
      expect(new Set(labelOf(solid, 'letter')).size, bent.kind).toBeGreaterThanOrEqual(4)
    }
  })

  it('stay apart where they overlapped before and were wanted so', async () => {
    const apart = { ...wordRoute('oo', 'archivo-bold', { touch: 'even', overlap: 3, overlaps: 'apart' })[0] }
    const count = async (...steps: ReturnType<typeof step>[]) => ((await evaluateRoute([apart, ...steps], { assets })).value as Outline).regions.length
    expect(await count()).toBe(2)
    expect(await count(step('warp', { shape: 'arch', angle: 60 }))).toBe(2)
    expect(await count(step('simplify', { tolerance: 0.1 }))).toBe(2)
  })
})

describe('Simplify', () => {
  it('needs fewer nodes and stays within the tolerance', async () => {
    const before = (await through('Quay', 'im-fell-italic')).outline
    const nodes = (o: Outline) => o.regions.reduce((sum, r) => sum + r.members.reduce((s, m) => s + m.paths.reduce((t, p) => t + p.verbs.length, 0), 0), 0)
    for (const tolerance of [0.05, 0.3]) {
      const { outline } = await through('Quay', 'im-fell-italic', step('simplify', { tolerance }))
      expect(nodes(outline)).toBeLessThan(nodes(before))
      before.regions.forEach((region, i) => {
        const [a, b] = [regionArea(region), regionArea(outline.regions[i])]
        const length = a.paths.reduce((sum, path) => sum + new ArcLength(path).length, 0)
        const differs = sizeOf(clipAreas(a, b, 'exclude'))
        expect(differs).toBeLessThan(tolerance * length)
      })
    }
  })
})

describe('Vector file and Layers', () => {
  const route = (layers: Record<string, unknown>, file: Record<string, unknown> = {}) => [
    step('vector-file', { file: mark, ...file }),
    step('layers', layers),
    step('extrude', { depth: 4, front: { profile: 'chamfer', inset: 0.4, height: 0.4 } }),
  ]

  it('makes a layer of every colour, standing on the ground about the middle, in mm', async () => {
    const { value } = await evaluateRoute([step('vector-file', { file: mark })], { assets: withMark })
    const outline = value as Outline
    const [x0, y0, x1] = curveBounds(placedPaths(outline))
    expect(y0).toBeCloseTo(0, 1)
    expect(x0 + x1).toBeCloseTo(0, 1)
    // the rope of 160 units with its round ends, at half a millimetre each
    expect(x1 - x0).toBeCloseTo(82, 0)
    expect(outline.layers.map((l) => l.colour)).toEqual(expect.arrayContaining(['#fbf9f4', '#1f6f68', '#163c3a', '#6b4a2b', '#e8b04b', '#20262b', '#a63d2f']))
    expect(new Set(outline.layers.map((l) => l.id)).size).toBe(outline.layers.length)
  })

  it('cuts to what is seen: no two areas overlap, and together they cover what the drawing covers', async () => {
    const outline = (await evaluateRoute([step('vector-file', { file: mark, gap: 0 })], { assets: withMark })).value as Outline
    const whole = (await evaluateRoute([step('vector-file', { file: mark, overlaps: 'keep' })], { assets: withMark })).value as Outline
    const union = sizeOf(unitePaths(whole.regions.flatMap(orientedPaths)))
    expect(Math.abs(areaOf(outline) - union) / union).toBeLessThan(1e-6)
    expect(areaOf(whole)).toBeGreaterThan(areaOf(outline) * 1.2)
  })

  it('gives each layer its own depth, edge, lift and colour; the solid is sound', async () => {
    const ids = ((await evaluateRoute([step('vector-file', { file: mark })], { assets: withMark })).value as Outline).layers.map((l) => l.id)
    const table = [
      { layer: ids[0], depth: 2, colour: '#ff0000' },
      { layer: ids[1], depth: 6, edge: 0.2 },
      { layer: ids[2], lift: 3 },
    ]
    const report = await evaluateRoute(route({ table }), { assets: withMark })
    const solid = report.value as Solid
    expect(report.steps.flatMap((s) => s.issues.filter((i) => i.severity === 'failed'))).toEqual([])
    expect(checkMesh(solid)).toMatchObject({ sound: true })
    const reach = (layer: number) => {
      let [low, high] = [Infinity, -Infinity]
      for (let t = 0; t < triangleCount(solid); t++)
        if (labelAt(solid, t, 'layer') === layer)
          for (let i = 0; i < 3; i++) {
            const z = solid.positions[3 * solid.indices[3 * t + i] + 2]
            low = Math.min(low, z)
            high = Math.max(high, z)
          }
      return [low, high]
    }
    expect([reach(0), reach(1), reach(2)]).toEqual([
      [0, 2],
      [0, 6],
      [3, 7],
    ])
    expect(surfacesOf(solid).surfaces.some((s) => s.group === 'face' && s.material.colour === '#ff0000')).toBe(true)
  })

  it('merges, hides and orders layers, and keeps aside what is set for layers that are gone', async () => {
    const ids = ((await evaluateRoute([step('vector-file', { file: mark })], { assets: withMark })).value as Outline).layers.map((l) => l.id)
    const table = [
      { layer: ids[1], into: ids[2] },
      { layer: ids[2], into: ids[1] },
      { layer: ids[3], into: ids[0] },
      { layer: ids[4], hidden: true },
      { layer: 'no such layer', lift: 4 },
    ]
    const report = await evaluateRoute(route({ table, order: [ids[5], ids[0]] }).slice(0, 2), { assets: withMark })
    const outline = report.value as Outline
    expect(outline.layers.slice(0, 2).map((l) => l.id)).toEqual([ids[5], ids[0]])
    expect(outline.layers.some((l) => l.id === ids[3] || l.id === ids[4])).toBe(false)
    expect(report.steps[1].issues).toMatchObject([{ code: 'layers-gone', message: expect.stringContaining('no such layer') }])
  })

  it.each([
    ['no file', {}, 'no-file'],
    ['a file the project lacks', { file: { sha256: '0'.repeat(64), name: 'x.svg' } }, 'file-missing'],
    ['a scale of 0', { file: mark, scale: 0 }, 'bad-value'],
  ])('answers %s with a plain message', async (_what, params, code) => {
    const report = await evaluateRoute([step('vector-file', params)], { assets: withMark })
    expect(report.steps[0].issues).toMatchObject([{ code, severity: 'failed' }])
  })
})
