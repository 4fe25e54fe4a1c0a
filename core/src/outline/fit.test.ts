import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { FULL, glyphAt40, openFace } from '../../test/helpers'
import { loadManifold } from '../kernel/manifold'
import { fitPath } from './fit'
import { flattenPath } from './flatten'
import { type Path, PathBuilder } from './path'
import { doubleArea } from './polygon'
import { smoothPath } from './spline'
import { strokeOutlines } from './stroker'

beforeAll(() => loadManifold())

/** A path as points, by plain evaluation, independent of the flattener. */
function dense(path: Path, each = 60): [number, number][] {
  const out: [number, number][] = [[path.coords[0], path.coords[1]]]
  let o = 0
  const c = path.coords
  for (const verb of path.verbs) {
    for (let i = 1; i <= each; i++) {
      const t = i / each
      const u = 1 - t
      const at = (d: number) =>
        verb === 1
          ? u * c[o + d] + t * c[o + 2 + d]
          : verb === 2
            ? u * u * c[o + d] + 2 * u * t * c[o + 2 + d] + t * t * c[o + 4 + d]
            : u * u * u * c[o + d] + 3 * u * u * t * c[o + 2 + d] + 3 * u * t * t * c[o + 4 + d] + t * t * t * c[o + 6 + d]
      out.push([at(0), at(1)])
    }
    o += 2 * verb
  }
  return out
}

function distanceTo(line: [number, number][], [x, y]: readonly [number, number]): number {
  let best = Infinity
  for (let i = 1; i < line.length; i++) {
    const [[ax, ay], [bx, by]] = [line[i - 1], line[i]]
    const [dx, dy] = [bx - ax, by - ay]
    const f = Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy || 1)))
    best = Math.min(best, Math.hypot(x - ax - f * dx, y - ay - f * dy))
  }
  return best
}

describe('fitPath', () => {
  it('never leaves the points by more than the tolerance, whatever they are', () => {
    const point = fc.tuple(fc.double({ min: -50, max: 50, noNaN: true }), fc.double({ min: -50, max: 50, noNaN: true }))
    fc.assert(
      fc.property(fc.array(point, { minLength: 3, maxLength: 40 }), fc.boolean(), fc.constantFrom(0.01, 0.1, 1), (points, closed, tolerance) => {
        const fitted = fitPath(Float64Array.from(points.flat()), closed, { tolerance })
        expect(fitted.coords.every((v) => Number.isFinite(v))).toBe(true)
        const line = dense(fitted)
        if (closed) line.push(line[0])
        for (const p of points) expect(distanceTo(line, p)).toBeLessThan(tolerance + 1e-6)
      }),
      { numRuns: 300 },
    )
  })

  it('follows smooth curves with few nodes, both ways within the tolerance', () => {
    const offset = fc.double({ min: -12, max: 12, noNaN: true })
    fc.assert(
      fc.property(fc.array(fc.tuple(offset, offset), { minLength: 4, maxLength: 7 }), (offsets) => {
        const points = offsets.map(([dx, dy], i): [number, number] => [40 * i + dx, 3 * dy])
        const path = smoothPath(points, false)
        const flat = flattenPath(path, { tolerance: 0.002, maxTurn: 4 })
        const fitted = fitPath(flat.xy, false, { tolerance: 0.05 })
        const [a, b] = [dense(path), dense(fitted)]
        for (const p of b) expect(distanceTo(a, p)).toBeLessThan(0.06)
        for (const p of a) expect(distanceTo(b, p)).toBeLessThan(0.06)
        expect(fitted.verbs.length).toBeLessThanOrEqual(8 * path.verbs.length)
      }),
      { numRuns: 60 },
    )
  })

  it('keeps the corners and straight sides of letters', async () => {
    const face = await openFace('archivo-bold')
    for (const character of 'EKWR&8') {
      const [g] = face.shape(character, { rightToLeft: false, features: {} })
      for (const path of glyphAt40(face, g.glyph)) {
        const flat = flattenPath(path, { tolerance: 0.004, maxTurn: 5 })
        const fitted = fitPath(flat.xy, true, { tolerance: 0.01, corner: 14 })
        const [a, b] = [dense(path), dense(fitted)]
        a.push(a[0])
        for (const p of b) expect(distanceTo(a, p), character).toBeLessThan(0.02)
        if (character === 'E' || character === 'K') expect(fitted.verbs.every((v) => v === 1)).toBe(true)
      }
    }
  })
})

describe('strokeOutlines', () => {
  const line = (...points: [number, number][]): Path => {
    const builder = new PathBuilder(...points[0])
    for (const p of points.slice(1)) builder.lineTo(...p)
    return builder.build(false)
  }
  const area = (paths: Path[]) => paths.reduce((sum, path) => sum + doubleArea(flattenPath(path, { tolerance: 0.001 }).xy) / 2, 0)

  it('has the area that caps and joins give', () => {
    const style = { width: 2, cap: 'flat', join: 'mitre' } as const
    expect(area(strokeOutlines([line([0, 0], [10, 0])], style, 0.01))).toBeCloseTo(20, 3)
    expect(area(strokeOutlines([line([0, 0], [10, 0])], { ...style, cap: 'round' }, 0.001))).toBeCloseTo(20 + Math.PI, 1)
    expect(area(strokeOutlines([line([0, 0], [10, 0], [10, 10])], style, 0.01))).toBeCloseTo(40, 2)
    expect(area(strokeOutlines([{ ...line([0, 0], [10, 0], [10, 10], [0, 10]), closed: true }], style, 0.01))).toBeCloseTo(144 - 64, 2)
  })

  it('lies everywhere within half its width of the line, and reaches it', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.integer({ min: -30, max: 30 }), fc.integer({ min: -30, max: 30 })), { minLength: 3, maxLength: 6 }), (points) => {
        fc.pre(points.every((p, i) => i === 0 || Math.hypot(p[0] - points[i - 1][0], p[1] - points[i - 1][1]) > 4))
        const path = smoothPath(points, false)
        const centre = dense(path, 200)
        for (const outline of strokeOutlines([path], { width: 3, cap: 'round', join: 'round' }, 0.01))
          for (const p of dense(outline, 8)) expect(Math.abs(distanceTo(centre, p) - 1.5)).toBeLessThan(0.03)
      }),
      { numRuns: FULL ? 40 : 20 },
    )
  })
})
