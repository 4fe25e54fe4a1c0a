import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { earClip } from './ear-clip'

const area = (x: number[], y: number[], [a, b, c]: number[]) => ((x[b] - x[a]) * (y[c] - y[a]) - (y[b] - y[a]) * (x[c] - x[a])) / 2

function clip(points: readonly (readonly [number, number])[]) {
  const x = points.map((p) => p[0])
  const y = points.map((p) => p[1])
  const out: number[] = []
  earClip(
    points.map((_, i) => i),
    x,
    y,
    out,
  )
  const triangles = Array.from({ length: out.length / 3 }, (_, t) => out.slice(3 * t, 3 * t + 3))
  return { x, y, triangles }
}

const polygonArea = (points: readonly (readonly [number, number])[]) =>
  points.reduce((sum, [x, y], i) => {
    const [u, v] = points[(i + 1) % points.length]
    return sum + (x * v - u * y) / 2
  }, 0)

/** Integer stars: simple, with many collinear and near-collinear points. */
const star = fc
  .array(fc.integer({ min: 3, max: 60 }), { minLength: 3, maxLength: 60 })
  .map((radii) => radii.map((r, i): [number, number] => [r * Math.cos((2 * Math.PI * i) / radii.length), r * Math.sin((2 * Math.PI * i) / radii.length)]))

describe('earClip', () => {
  it('keeps every vertex and covers a simple polygon exactly, with no triangle turned over', () => {
    fc.assert(
      fc.property(star, (points) => {
        const { x, y, triangles } = clip(points)
        expect(triangles.length).toBe(points.length - 2)
        expect(new Set(triangles.flat()).size).toBe(points.length)
        for (const t of triangles) expect(area(x, y, t)).toBeGreaterThan(0)
        expect(triangles.reduce((sum, t) => sum + area(x, y, t), 0)).toBeCloseTo(polygonArea(points), 6)
      }),
      { numRuns: 300 },
    )
  })

  it('keeps points that lie on a straight side', () => {
    const { triangles } = clip([
      [0, 0],
      [1, 0],
      [2, 0],
      [3, 0],
      [3, 3],
      [0, 3],
    ])
    expect(triangles.length).toBe(4)
    expect(new Set(triangles.flat()).size).toBe(6)
  })

  it('takes the better diagonal of a quadrilateral, and the only valid one of a dart', () => {
    const thin = clip([
      [0, 0],
      [10, 0],
      [11, 1],
      [1, 1],
    ])
    for (const t of thin.triangles) expect(area(thin.x, thin.y, t)).toBeGreaterThan(0)
    const dart = clip([
      [0, 0],
      [4, 2],
      [0, 4],
      [1, 2],
    ])
    for (const t of dart.triangles) expect(area(dart.x, dart.y, t)).toBeGreaterThan(0)
  })

  it('still gives n − 2 triangles for what is no polygon at all', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.integer({ min: 0, max: 3 }), fc.integer({ min: 0, max: 3 })), { minLength: 3, maxLength: 20 }), (points) => {
        expect(clip(points).triangles.length).toBe(points.length - 2)
      }),
    )
  })
})
