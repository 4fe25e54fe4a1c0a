import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { loadManifold } from '../kernel/manifold'
import { Area, type ClipHow, clipAreas, unitePaths } from './clip'
import { flattenPath } from './flatten'
import { type Path, PathBuilder, pathArea, reversePath } from './path'

const KAPPA = 0.5522847498307936

function ellipse(x: number, y: number, rx: number, ry: number): Path {
  const p = new PathBuilder(x + rx, y)
  p.cubicTo(x + rx, y + KAPPA * ry, x + KAPPA * rx, y + ry, x, y + ry)
  p.cubicTo(x - KAPPA * rx, y + ry, x - rx, y + KAPPA * ry, x - rx, y)
  p.cubicTo(x - rx, y - KAPPA * ry, x - KAPPA * rx, y - ry, x, y - ry)
  p.cubicTo(x + KAPPA * rx, y - ry, x + rx, y - KAPPA * ry, x + rx, y)
  return p.build(true)
}
function box(x0: number, y0: number, x1: number, y1: number): Path {
  const p = new PathBuilder(x0, y0)
  p.lineTo(x1, y0)
  p.lineTo(x1, y1)
  p.lineTo(x0, y1)
  return p.build(true)
}
const areaOf = (paths: readonly Path[]) => paths.reduce((sum, path) => sum + pathArea(path), 0)
const clip = (a: readonly Path[], b: readonly Path[], how: ClipHow) => clipAreas(new Area(a), new Area(b), how)

/** Inside by the non-zero winding of a fine flattening: an oracle that shares nothing with the clipper. */
function winds(paths: readonly Path[], x: number, y: number): boolean {
  let winding = 0
  for (const path of paths) {
    const { xy } = flattenPath(path, { tolerance: 1e-4, maxTurn: 2 })
    for (let i = 0; i < xy.length; i += 2) {
      const [x0, y0, x1, y1] = [xy[i], xy[i + 1], xy[(i + 2) % xy.length], xy[(i + 3) % xy.length]]
      if (y0 <= y !== y1 <= y && x0 + ((y - y0) / (y1 - y0)) * (x1 - x0) > x) winding += y1 > y0 ? 1 : -1
    }
  }
  return winding !== 0
}

beforeAll(async () => {
  await loadManifold()
})

const anEllipse = fc
  .tuple(
    fc.double({ min: -20, max: 20, noNaN: true }),
    fc.double({ min: -20, max: 20, noNaN: true }),
    fc.double({ min: 3, max: 25, noNaN: true }),
    fc.double({ min: 3, max: 25, noNaN: true }),
  )
  .map(([x, y, rx, ry]) => ellipse(x, y, rx, ry))
const aShape = fc.oneof(
  anEllipse,
  fc
    .tuple(
      fc.double({ min: -20, max: 20, noNaN: true }),
      fc.double({ min: -20, max: 20, noNaN: true }),
      fc.double({ min: 2, max: 30, noNaN: true }),
      fc.double({ min: 2, max: 30, noNaN: true }),
    )
    .map(([x, y, w, h]) => box(x, y, x + w, y + h)),
)

describe('clipAreas', () => {
  it('keeps curves that nothing cuts exactly as they were', () => {
    const ring = [ellipse(0, 0, 20, 15), reversePath(ellipse(0, 0, 10, 8))]
    const out = unitePaths(ring)
    expect(out.length).toBe(2)
    expect(areaOf(out)).toBeCloseTo(areaOf(ring), 10)
    expect(out.map((p) => p.verbs.length).sort()).toEqual([4, 4])
  })

  it('parts add up to the whole: what is cut away and what is left, to a millionth of the area', () => {
    fc.assert(
      fc.property(aShape, aShape, (a, b) => {
        const [left, cut] = [clip([a], [b], 'subtract'), clip([a], [b], 'intersect')]
        expect(Math.abs(areaOf(left) + areaOf(cut) - pathArea(a)) / pathArea(a)).toBeLessThan(1e-6)
        const both = areaOf(clip([a], [b], 'add'))
        expect(Math.abs(both + areaOf(cut) - pathArea(a) - pathArea(b)) / both).toBeLessThan(1e-6)
        expect(Math.abs(areaOf(clip([a], [b], 'exclude')) - (both - areaOf(cut))) / both).toBeLessThan(1e-6)
      }),
      { numRuns: 300 },
    )
  })

  it('has inside what an independent winding count has inside', () => {
    fc.assert(
      fc.property(
        aShape,
        aShape,
        fc.constantFrom<ClipHow>('add', 'subtract', 'intersect', 'exclude'),
        fc.array(fc.tuple(fc.double({ min: -30, max: 40, noNaN: true }), fc.double({ min: -30, max: 40, noNaN: true })), { minLength: 12, maxLength: 12 }),
        (a, b, how, points) => {
          const out = clip([a], [b], how)
          for (const [x, y] of points) {
            const [p, q] = [winds([a], x, y), winds([b], x, y)]
            const nearBorder = [0.01, -0.01].some(
              (d) => winds([a], x + d, y + d) !== p || winds([b], x + d, y - d) !== q || winds([a], x - d, y + d) !== p || winds([b], x + d, y + d) !== q,
            )
            if (nearBorder) continue
            const expected = how === 'add' ? p || q : how === 'subtract' ? p && !q : how === 'intersect' ? p && q : p !== q
            expect(winds(out, x, y)).toBe(expected)
          }
        },
      ),
      { numRuns: 120 },
    )
  })

  it('cuts circles at their true crossings', () => {
    const out = clip([ellipse(0, 0, 10, 10)], [box(-20, 3, 20, 20)], 'intersect')
    expect(out.length).toBe(1)
    const corners: number[] = []
    for (let i = 0; i < out[0].coords.length; i += 2) if (Math.abs(out[0].coords[i + 1] - 3) < 1e-9) corners.push(out[0].coords[i])
    // the cubic circle is within 0.03 % of the true one
    expect(Math.max(...corners)).toBeCloseTo(Math.sqrt(91), 2)
  })

  it('keeps slices of one curve and one straight side', () => {
    const whole = [ellipse(0, 0, 10, 10)]
    const cap = clip(whole, [box(-20, 9, 20, 20)], 'intersect')
    expect(cap.length).toBe(1)
    expect(areaOf(cap) + areaOf(clip(whole, [box(-20, -20, 20, 9)], 'intersect'))).toBeCloseTo(areaOf(whole), 6)
    const side = clip(whole, [box(-20, -20, -9.9, 20)], 'intersect')
    expect(areaOf(side) + areaOf(clip(whole, [box(-9.9, -20, 20, 20)], 'intersect'))).toBeCloseTo(areaOf(whole), 6)
  })

  it('a shape with itself: union is the shape, difference nothing', () => {
    const a = ellipse(1, 2, 12, 7)
    expect(areaOf(clip([a], [a], 'add'))).toBeCloseTo(pathArea(a), 6)
    expect(clip([a], [a], 'subtract')).toEqual([])
  })

  it('measures curves exactly: half the ellipse formula of its own quarter curves', () => {
    // the area under the cubic quarter of a unit circle, integrated by Simpson's rule at 20,000 points
    const path = ellipse(0, 0, 1, 1)
    const n = 20_000
    const c = path.coords
    let sum = 0
    const at = (k: 0 | 1, t: number) => {
      const s = 1 - t
      return s * s * s * c[k] + 3 * s * s * t * c[2 + k] + 3 * s * t * t * c[4 + k] + t * t * t * c[6 + k]
    }
    for (let i = 0; i < n; i++) sum += (at(0, i / n) * at(1, (i + 1) / n) - at(0, (i + 1) / n) * at(1, i / n)) / 2
    expect(pathArea(path)).toBeCloseTo(4 * sum, 6)
  })
})
