import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { pathArea } from './path'
import { areSimple, doubleArea, winding } from './polygon'
import { blurred, type Field, levelRings, traceRings } from './trace'

/** A field from a formula, asked at the middles of the pixels, Y upwards. */
function field(width: number, height: number, value: (x: number, y: number) => number): Field {
  const values = new Float32Array(width * height)
  for (let row = 0; row < height; row++) for (let x = 0; x < width; x++) values[row * width + x] = value(x + 0.5, height - row - 0.5)
  return { width, height, values }
}

const areaOf = (rings: readonly Float64Array[]) => rings.reduce((sum, ring) => sum + doubleArea(ring) / 2, 0)
const pictures = fc.tuple(fc.integer({ min: 1, max: 14 }), fc.integer({ min: 1, max: 14 })).chain(([width, height]) =>
  fc.record({
    width: fc.constant(width),
    height: fc.constant(height),
    values: fc.array(fc.integer({ min: 0, max: 9 }), { minLength: width * height, maxLength: width * height }).map((list) => Float32Array.from(list)),
  }),
)

describe('levelRings', () => {
  it('has every pixel above the level inside and every other outside, and crosses itself nowhere', () => {
    fc.assert(
      fc.property(pictures, (picture) => {
        const rings = levelRings(picture, 4.5)
        const sets = rings.map((xy) => ({ xy }))
        for (let row = 0; row < picture.height; row++)
          for (let x = 0; x < picture.width; x++) {
            const inside = winding(sets, x + 0.5, picture.height - row - 0.5) !== 0
            expect(inside).toBe(picture.values[row * picture.width + x] > 4.5)
          }
        expect(areSimple(rings)).toBe(true)
      }),
      { numRuns: 300 },
    )
  })

  it('runs about islands to the left and about holes to the right', () => {
    const ring = field(60, 60, (x, y) => {
      const r = Math.hypot(x - 30, y - 30)
      return Math.min(20 - r, r - 8)
    })
    const rings = levelRings(ring, 0)
    expect(rings.map((r) => Math.sign(doubleArea(r))).sort()).toEqual([-1, 1])
    expect(areaOf(rings)).toBeCloseTo(Math.PI * (400 - 64), -1)
  })

  it('lies where the field passes the level, between the pixels', () => {
    fc.assert(
      fc.property(fc.double({ min: 4, max: 24, noNaN: true }), fc.integer({ min: 0, max: 100 }), (radius, shift) => {
        const [cx, cy] = [30 + shift / 100, 30 - shift / 200]
        for (const ring of levelRings(
          field(60, 60, (x, y) => radius - Math.hypot(x - cx, y - cy)),
          0,
        ))
          for (let i = 0; i < ring.length; i += 2) expect(Math.abs(Math.hypot(ring[i] - cx, ring[i + 1] - cy) - radius)).toBeLessThan(0.04)
      }),
      { numRuns: 40 },
    )
  })

  it('has none where all lies below, and one about the whole where all lies above', () => {
    expect(
      levelRings(
        field(5, 4, () => 0),
        1,
      ),
    ).toEqual([])
    const [whole, ...others] = levelRings(
      field(5, 4, () => 2),
      1,
    )
    expect(others).toEqual([])
    expect(areaOf([whole])).toBeGreaterThan(12)
    expect(areaOf([whole])).toBeLessThanOrEqual(20)
  })
})

describe('blurred', () => {
  it('keeps a level field as it is and stays between the least and the most', () => {
    fc.assert(
      fc.property(pictures, fc.integer({ min: 1, max: 30 }), (picture, tenths) => {
        const out = blurred(picture, tenths / 10).values
        expect(Math.min(...out)).toBeGreaterThanOrEqual(Math.min(...picture.values) - 1e-4)
        expect(Math.max(...out)).toBeLessThanOrEqual(Math.max(...picture.values) + 1e-4)
      }),
    )
    expect(
      Math.max(
        ...blurred(
          field(9, 7, () => 3),
          2,
        ).values,
      ),
    ).toBeCloseTo(3, 5)
    const same = field(3, 3, (x) => x)
    expect(blurred(same, 0)).toBe(same)
  })
})

describe('traceRings', () => {
  const disc = (radius: number) =>
    levelRings(
      field(80, 80, (x, y) => radius - Math.hypot(x - 40, y - 40)),
      0,
    )

  it('follows a disc with few curves, in mm', () => {
    const [path, ...others] = traceRings(disc(30), { scale: 0.5, speckle: 0, smoothness: 0.5 })
    expect(others).toEqual([])
    expect(Math.abs(pathArea(path))).toBeCloseTo(Math.PI * 15 ** 2, -1)
    expect(path.verbs.length).toBeLessThan(14)
  })

  it('keeps the corners of a square where they are', () => {
    const square = levelRings(
      field(60, 60, (x, y) => (x > 10 && x < 50 && y > 10 && y < 50 ? 1 : 0)),
      0.5,
    )
    const [path] = traceRings(square, { scale: 1, speckle: 0, smoothness: 0.3 })
    for (const [x, y] of [
      [10, 10],
      [50, 10],
      [50, 50],
      [10, 50],
    ]) {
      let nearest = Infinity
      for (let i = 0; i < path.coords.length; i += 2) nearest = Math.min(nearest, Math.hypot(path.coords[i] - x, path.coords[i + 1] - y))
      expect(nearest).toBeLessThan(1.2)
    }
  })

  it('drops what is smaller than a speckle', () => {
    const rings = [...disc(30), ...disc(3)]
    expect(rings).toHaveLength(2)
    expect(traceRings(rings, { scale: 1, speckle: 40, smoothness: 0.5 })).toHaveLength(1)
    expect(traceRings(rings, { scale: 1, speckle: 20, smoothness: 0.5 })).toHaveLength(2)
  })
})
