import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import * as drawings from '../../test/hostile-drawings'
import { loadManifold } from '../kernel/manifold'
import { TooMuchWork } from '../kernel/work-bound'
import { regionPolygons, polygonArea } from '../outline/polygon'
import { regionPaths, type Outline } from '../outline/outline'
import { pathArea } from '../outline/path'
import { readDrawing } from '../steps/source/vector-file/make'
import { readDxf } from './dxf'
import { FormatError } from './mesh-data'
import { readSvg } from './svg'
import { FULL } from '../../test/helpers'
import { within } from '../../test/within'

/** Everything at a quarter of the size that practitioners bring, unless the whole is asked for. */
const SHARE = FULL ? 1 : 0.25
const MOST_MS = 5000
const some = (count: number) => Math.round(count * SHARE)

const read = (text: string): Promise<{ outline: Outline; ignored: readonly string[] }> => within(MOST_MS, () => readDrawing(new TextEncoder().encode(text)))

const paths = (outline: Outline) => outline.regions.flatMap((region) => regionPaths(region))
const area = (outline: Outline) => Math.abs(paths(outline).reduce((sum, path) => sum + pathArea(path), 0))

/** A refusal at once, with the limit or the reason named. */
async function refused(text: string, reason: RegExp): Promise<void> {
  const failed = await within(3000, () =>
    readDrawing(new TextEncoder().encode(text)).then(
      () => undefined,
      (error: unknown) => error,
    ),
  )
  expect(failed).toBeInstanceOf(FormatError)
  expect((failed as FormatError).message).toMatch(reason)
  expect((failed as FormatError).remedy).not.toBe('')
}

describe('large drawings', () => {
  it('SVG: a stipple of 20,000 rings, each ring with its hole, as many paths or as one', async () => {
    const rings = some(20_000)
    const ring = Math.PI * (2 ** 2 - 1)
    const many = await read(drawings.svgStipple(rings))
    expect(paths(many.outline)).toHaveLength(2 * rings)
    expect(area(many.outline) / rings).toBeCloseTo(ring, 2)
    const one = await read(drawings.svgStippleAsOne(rings))
    expect(paths(one.outline)).toHaveLength(2 * rings)
    expect(area(one.outline) / rings).toBeCloseTo(ring, 2)
  })

  it('SVG: 100,000 stroked lines, and one of 100,000 points', async () => {
    const lines = await read(drawings.svgLines(some(100_000)))
    expect(paths(lines.outline)).toHaveLength(some(100_000))
    expect(area(lines.outline) / some(100_000)).toBeCloseTo(Math.hypot(1.5, 1) * 0.1, 4)
    const spiral = await read(drawings.svgStroke(some(100_000)))
    // a band as long as the line and 0.2 wide; with 1.2 turns of room it nowhere meets itself
    let length = 0
    const at = (i: number) => [1.2 * 0.6 * Math.sqrt(i) * Math.cos(0.6 * Math.sqrt(i)), 1.2 * 0.6 * Math.sqrt(i) * Math.sin(0.6 * Math.sqrt(i))]
    for (let i = 1; i < some(100_000); i++) length += Math.hypot(at(i)[0] - at(i - 1)[0], at(i)[1] - at(i - 1)[1])
    expect(area(spiral.outline) / (0.2 * length)).toBeCloseTo(1, 2)
  })

  it('SVG: one path of 200,000 segments, and the area that is made of it', async () => {
    const { outline } = await read(drawings.svgCoast(some(200_000)))
    expect(paths(outline)).toHaveLength(1)
    expect(paths(outline)[0].verbs.length).toBeGreaterThan(0.99 * some(200_000))
    await loadManifold()
    const made = await within(MOST_MS, () => polygonArea(regionPolygons(outline.regions[0], 0.02, outline.lattice)))
    expect(made / area(outline)).toBeCloseTo(1, 3)
  })

  it('SVG: 60,000 paths of one name are so many layers, named apart, and no more than there may be', async () => {
    const { outline } = await read(drawings.svgOneName(some(60_000)))
    expect(outline.layers).toHaveLength(500)
    expect(new Set(outline.layers.map((layer) => layer.name)).size).toBe(500)
    expect(outline.layers[1].name).toBe('mark 2')
    expect(paths(outline)).toHaveLength(some(60_000))
  })

  it('SVG: 20,000 style rules over 5,000 elements, the right one for each', async () => {
    const { outline } = await read(drawings.svgRules(some(20_000), some(5000)))
    // no element is within both of what a rule asks for
    expect(outline.layers.map((layer) => layer.colour)).toEqual(['#000000'])
    const styled = `<svg><style>.a .b7 > .c7{fill:#112233} #q{fill:#445566} path{fill:#778899} .c7.d{fill:#aabbcc}</style>
      <g class="a"><g class="x b7"><path class="c7" d="M0 0h9v9z"/><path id="q" class="c7" d="M20 0h9v9z"/><path class="d c7" d="M40 0h9v9z"/></g></g><path d="M60 0h9v9z"/></svg>`
    expect((await read(styled)).outline.layers.map((layer) => layer.colour)).toEqual(['#112233', '#445566', '#112233', '#778899'])
    await refused(drawings.svgRules(20_001, 1), /20,000 style rules/)
  })

  it('DXF: 100,000 lines apart, in one chain, in one point; 20,000 circles beside and within one another', async () => {
    const lines = await read(drawings.dxfLines(some(100_000)))
    expect(lines.outline.strokes).toHaveLength(some(100_000))
    const chain = await read(drawings.dxfChain(some(100_000)))
    expect(chain.outline.strokes.map((path) => path.verbs.length)).toEqual([some(100_000)])
    // two and two make one
    expect((await read(drawings.dxfStar(some(20_000)))).outline.strokes).toHaveLength(some(20_000) / 2)
    const circles = await read(drawings.dxfCircles(some(20_000)))
    expect(area(circles.outline) / some(20_000)).toBeCloseTo(4 * Math.PI, 2)
    // rings and gaps in turn: outermost filled
    const target = await read(drawings.dxfTarget(some(5000)))
    let expected = 0
    for (let i = 0; i < some(5000); i++) expected += (i % 2 === (some(5000) - 1) % 2 ? 1 : -1) * Math.PI * (1 + i * 0.05) ** 2
    expect(area(target.outline) / expected).toBeCloseTo(1, 3)
  })

  it('DXF: 200,000 vertices, both ways of writing them, and a spline of 10,000 points', async () => {
    for (const type of ['LWPOLYLINE', 'POLYLINE'] as const)
      expect((await read(drawings.dxfPolyline(some(200_000), type))).outline.strokes.map((path) => path.verbs.length)).toEqual([some(200_000) - 1])
    expect((await read(drawings.dxfSpline(some(10_000)))).outline.strokes.map((path) => path.verbs.length)).toEqual([some(10_000) - 3])
  })

  it('breathe and tell how far they are', async () => {
    for (const text of [drawings.svgLines(2000), drawings.dxfLines(2000)]) {
      const told: number[] = []
      let breaths = 0
      const work = {
        breathe: async () => {
          breaths++
        },
        progress: (done: number) => void told.push(done),
      }
      await (text.startsWith('<') ? readSvg(text, undefined, work) : readDxf(text, work))
      expect(breaths).toBeGreaterThan(5)
      expect(told.length).toBeGreaterThan(5)
      expect(told).toEqual(told.toSorted((a, b) => a - b))
      expect(told.every((done) => done >= 0 && done <= 1)).toBe(true)
      const stopped = { ...work, breathe: () => Promise.reject(new DOMException('stopped', 'AbortError')) }
      await expect(text.startsWith('<') ? readSvg(text, undefined, stopped) : readDxf(text, stopped)).rejects.toThrow('stopped')
    }
  })
})

describe('endless drawings', () => {
  it('are refused at once, with what is too much of them', async () => {
    await refused(drawings.svgTangle(3000, 'evenodd'), /cross one another more than 200,000 times/)
    await refused(drawings.svgScribble(3000), /cross one another/)
    await refused(drawings.svgNestedMedia(20_000), /nested more than 100 deep/)
    await refused(drawings.svgDoctype(198_000), /well-formed/)
    await refused('<!DOCTYPE svg [<!ENTITY a "b">]><svg/>', /entities/)
    await refused(drawings.svgCopies(30), /repeats its parts/)
    await refused(drawings.dxfLines(200_001), /200,000 entities/)
    await refused('<svg><path fill="none" stroke="red" stroke-width="9007199254740993" d="M0 0h9v9z"/></svg>', /too far|beyond a kilometre/)
    const one = `${'<g>'.repeat(500)}`
    await refused(`<svg>${one}</svg>`, /nested more than 400 deep|well-formed/)
    const colours = Array.from({ length: 501 }, (_, i) => `<path fill="#${(i + 16).toString(16).padStart(6, '0')}" d="M${i} 0h1v1z"/>`).join('')
    await refused(`<svg>${colours}</svg>`, /500 layers or colours/)
  })

  it('that only look endless are read', async () => {
    expect((await read(drawings.svgSpaces(200_000))).outline.regions).toHaveLength(1)
    expect((await read(drawings.svgMatrices(100_000))).outline.regions).toHaveLength(1)
    expect((await read(drawings.svgOpenMatrices(100_000))).outline.regions).toHaveLength(1)
    expect((await read(drawings.svgInheritedNames())).ignored.slice(0, 4)).toEqual(['“constructor”', '“toString”', '“__proto__”', '“hasOwnProperty”'])
    expect((await read(drawings.dxfEllipse())).ignored).toEqual(['a damaged ELLIPSE'])
    expect((await read(drawings.svgClips(40, 200))).outline.layers.length).toBeLessThan(2)
  })

  it('that are read as they stand are no work without end for what is made of them', async () => {
    const { outline } = await read(drawings.svgTangle(3000))
    await loadManifold()
    expect(() => regionPolygons(outline.regions[0], 0.02, outline.lattice)).toThrow(TooMuchWork)
  })
})

describe('splines of DXF drawings', () => {
  /** The point of a B-spline at u by the basis functions' own recurrence (Cox 1972, de Boor 1972). */
  function pointAt(knots: readonly number[], points: readonly (readonly [number, number])[], degree: number, u: number): [number, number] {
    const basis = (i: number, p: number): number => {
      if (p === 0) return (knots[i] <= u && u < knots[i + 1]) || (u === knots[knots.length - 1] && knots[i] < u && u === knots[i + 1]) ? 1 : 0
      const left = knots[i + p] - knots[i]
      const right = knots[i + p + 1] - knots[i + 1]
      return (left > 0 ? ((u - knots[i]) / left) * basis(i, p - 1) : 0) + (right > 0 ? ((knots[i + p + 1] - u) / right) * basis(i + 1, p - 1) : 0)
    }
    return points.reduce<[number, number]>(([x, y], [px, py], i) => [x + px * basis(i, degree), y + py * basis(i, degree)], [0, 0])
  }

  it('are the same curves, whatever their knots', async () => {
    let tried = 0
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom(1, 2, 3),
        fc.array(fc.tuple(fc.integer({ min: 0, max: 300 }), fc.integer({ min: 0, max: 300 })), { minLength: 5, maxLength: 9 }),
        fc.array(fc.integer({ min: 0, max: 3 }), { minLength: 14, maxLength: 14 }),
        fc.boolean(),
        async (degree, points, strides, clamped) => {
          const count = points.length + degree + 1
          const knots = [0]
          for (let i = 1; i < count; i++) knots.push(knots[i - 1] + (clamped && (i <= degree || i >= points.length + 1) ? 0 : strides[i]))
          const [first, last] = [knots[degree], knots[points.length]]
          // a knot more often than the degree lets the curve jump: no drawing has that
          const jumps = knots.some((u, i) => i + degree < count && u === knots[i + degree] && !(clamped && (i === 0 || i + degree === count - 1)))
          if (first === last || jumps) return
          const pairs = [...knots.map((u) => `40\n${u}`), ...points.flatMap(([x, y]) => [`10\n${x}`, `20\n${y}`])].join('\n')
          const { outline } = await readDxf(`0\nSECTION\n2\nENTITIES\n0\nSPLINE\n8\n0\n70\n0\n71\n${degree}\n${pairs}\n0\nENDSEC\n0\nEOF\n`)
          const spans = [...new Set(knots)].filter((u) => u >= first && u <= last)
          const path = [...outline.strokes, ...paths(outline)][0]
          // points in one place make lines of no length, which are left out
          if (!path || path.verbs.length !== spans.length - 1) return
          tried++
          let o = 0
          path.verbs.forEach((verb, s) => {
            if (verb !== degree) return
            const c = path.coords.subarray(o, o + 2 + 2 * verb)
            for (const t of [0, 0.3, 0.7, 1 - 1e-9]) {
              // de Casteljau
              const level = Array.from({ length: verb + 1 }, (_, k) => [c[2 * k], c[2 * k + 1]])
              for (let r = verb; r > 0; r--) for (let k = 0; k < r; k++) for (const d of [0, 1]) level[k][d] += t * (level[k + 1][d] - level[k][d])
              const [x, y] = pointAt(knots, points, degree, spans[s] + t * (spans[s + 1] - spans[s]))
              expect(Math.hypot(level[0][0] - x, level[0][1] - y)).toBeLessThan(1e-5)
            }
            o += 2 * verb
          })
        },
      ),
      { numRuns: 400 },
    )
    expect(tried).toBeGreaterThan(60)
  })
})
